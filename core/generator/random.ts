import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { mersenne } from 'pure-rand/generator/mersenne'

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

export function chanceOf(seed: number): Chance {
  const generator = mersenne(seed)
  const next = (): number => uniformFloat64(generator)
  const between = (first: number, last: number): number =>
    first + Math.floor(next() * (last - first + 1))
  return {
    next,
    between,
    one: (list) => list[between(0, list.length - 1)]!,
    happens: (p) => next() < p,
  }
}
