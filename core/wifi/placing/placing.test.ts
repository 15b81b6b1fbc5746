import { describe, expect, it } from 'vitest'
import { chanceOf } from '../../generator'
import { placeBest, placeFewest, type Candidate } from './placing'

/** Every set of so many, each point asked by itself. */
function exhaustive(candidates: readonly Candidate[], count: number, weights: readonly number[]) {
  let best = 0
  for (let set = 0; set < 1 << candidates.length; set++) {
    const list = candidates.filter((_, c) => (set >> c) & 1)
    if (list.length > count) continue
    const served = weights.reduce(
      (sum, w, p) => (list.some((c) => c.points.includes(p)) ? sum + w : sum),
      0,
    )
    best = Math.max(best, served)
  }
  return best
}
function randomPlace(seed: number, places: number, points: number) {
  const chance = chanceOf(seed)
  const weights = Array.from({ length: points }, () => chance.between(1, 9))
  const candidates = Array.from({ length: places }, (_, n): Candidate => {
    const p = 0.05 + 0.4 * chance.next()
    return { id: `p${n}`, points: weights.flatMap((_w, i) => (chance.happens(p) ? i : [])) }
  })
  return { weights, candidates }
}

describe('where to hang them', () => {
  it('is the best there is, where all sets can be looked through', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const { weights, candidates } = randomPlace(seed, 10, 30)
      const count = 1 + (seed % 4)
      const placed = placeBest(candidates, count, weights)
      expect(placed.served).toBeCloseTo(exhaustive(candidates, count, weights), 9)
      expect(placed.isBest).toBe(true)
      expect(placed.ids.length).toBeLessThanOrEqual(count)
    }
  })
  it('is as good as its bound says, where they cannot', () => {
    for (let seed = 1; seed <= 10; seed++) {
      const { weights, candidates } = randomPlace(100 + seed, 200, 400)
      const placed = placeBest(candidates, 8, weights)
      const union = new Set(placed.ids.flatMap((id) => candidates.find((c) => c.id === id)!.points))
      const served = [...union].reduce((sum, p) => sum + weights[p]!, 0)
      expect(placed.served).toBe(served)
      expect(placed.atMost).toBeGreaterThanOrEqual(served)
      // Better than what taking the best each time is known to reach.
      expect(served / placed.atMost).toBeGreaterThan(1 - 1 / Math.E)
    }
  })
  it('its bound holds: no set of as many serves more', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const { weights, candidates } = randomPlace(500 + seed, 12, 24)
      let asked = 0
      // Stopped after the first: only the bound is looked at.
      const placed = placeBest(candidates, 3, weights, () => asked++ > 0)
      expect(placed.atMost).toBeGreaterThanOrEqual(exhaustive(candidates, 3, weights) - 1e-9)
    }
  })
})

describe('how few it takes', () => {
  it('is the fewest, and never fewer than the bound', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const { weights, candidates } = randomPlace(900 + seed, 9, 25)
      const all = exhaustive(candidates, 9, weights)
      const goal = 0.8 * weights.reduce((a, b) => a + b, 0)
      const { placed, atLeast } = placeFewest(candidates, 0.8, weights)
      if (all < goal) {
        expect(placed).toBeNull()
        continue
      }
      const fewest = [1, 2, 3, 4, 5, 6, 7, 8, 9].find(
        (n) => exhaustive(candidates, n, weights) >= goal - 1e-9,
      )!
      expect(placed!.ids.length).toBe(fewest)
      expect(atLeast).toBeLessThanOrEqual(fewest)
    }
  })
  it('says that it cannot', () => {
    expect(placeFewest([{ id: 'a', points: [0] }], 1, [1, 1])).toMatchObject({ placed: null })
    expect(placeFewest([], 0.5, [1]).placed).toBeNull()
    expect(placeFewest([], 0, []).placed?.ids).toEqual([])
  })
})
