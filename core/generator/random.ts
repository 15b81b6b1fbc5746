/** Choices from a seeded source, so that a seed decides a site. */
export interface Chance {
  /** Uniform in [0, 1). */
  next(): number
  /** A whole number from the first to the last, both included. */
  between(first: number, last: number): number
  one<T>(list: readonly T[]): T
  /** Whether something with this probability happens. */
  happens(probability: number): boolean
}

/**
 * SplitMix32: an additive step and a finaliser with good avalanche (after Steele, Lea and Flood
 * 2014, reduced to 32 bits; constants from memory).
 */
export function chanceOf(seed: number): Chance {
  let state = seed >>> 0
  const next = (): number => {
    state = (state + 0x9e3779b9) >>> 0
    let z = state
    z = Math.imul(z ^ (z >>> 16), 0x21f0aaad) >>> 0
    z = Math.imul(z ^ (z >>> 15), 0x735a2d97) >>> 0
    return ((z ^ (z >>> 15)) >>> 0) / 2 ** 32
  }
  const between = (first: number, last: number): number =>
    first + Math.floor(next() * (last - first + 1))
  return {
    next,
    between,
    one: (list) => list[between(0, list.length - 1)]!,
    happens: (p) => next() < p,
  }
}
