/** Radio: bands, levels, rates, what materials take, what is lawful. */
export { bands, type Band } from './bands'
export { percentOf } from './decibels'
export { materialIds, materials, type MaterialId } from './materials'
