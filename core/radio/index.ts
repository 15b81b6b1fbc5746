/** Radio: bands, levels, rates, what materials take, what is lawful. */
export { bands, numbersOf, takenBy, widths, widthsOf, type Band, type Width } from './bands'
export { percentOf } from './decibels'
export { generations, letterOf, type Generation } from './rates'
export { lossOfMaterial, materialIds, materials, type MaterialId } from './materials'
