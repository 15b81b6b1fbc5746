/** Radio: bands, levels, rates, what materials take, what is lawful. */
export { bands, numbersOf, takenBy, widthsOf, type Band, type Width } from './bands'
export { percentOf } from './decibels'
export { lossOfMaterial, materialIds, materials, type MaterialId } from './materials'
