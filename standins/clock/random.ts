import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { mersenne } from 'pure-rand/generator/mersenne'

/** Uniform in [0, 1); the same seed gives the same run. */
export function seededRandom(seed: number): () => number {
  const generator = mersenne(seed)
  return () => uniformFloat64(generator)
}
