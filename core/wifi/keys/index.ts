/** Keys of networks; apart from the rest, since they bring a dictionary along. */
export { joinText } from './joinText'
export { keyStrength, timeWords } from './keyStrength'
export { weakKeys } from './weakKeys'
export { preSharedKey } from './preShared'
