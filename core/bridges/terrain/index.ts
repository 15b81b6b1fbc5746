/** Reading the ground out of files. */
export { readGround } from './read'
