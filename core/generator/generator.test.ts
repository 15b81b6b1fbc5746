import { expect, it } from 'vitest'
import { canonicalJson, parsePlan } from '../plan'
import { chanceOf, largeShape, randomSite, smallShape } from '.'

it('two hundred seeds give two hundred valid plans', () => {
  const seen = new Set<string>()
  for (let seed = 1; seed <= 200; seed++) {
    const chance = chanceOf(seed)
    const plan = randomSite(chance, smallShape(chance, seed % 2 === 0 ? 0.3 : 0))
    const parsed = parsePlan(JSON.parse(JSON.stringify(plan)))
    expect(parsed.ok ? [] : parsed.problems.slice(0, 3), `seed ${seed}`).toEqual([])
    seen.add(canonicalJson(plan))
  }
  expect(seen.size).toBe(200)
})

it('a seed gives the same site every time', () => {
  const make = (): string => {
    const chance = chanceOf(42)
    return canonicalJson(randomSite(chance, smallShape(chance, 0.2)))
  }
  expect(make()).toBe(make())
})

it('the large one is what it says', () => {
  const plan = randomSite(chanceOf(1), largeShape)
  expect(parsePlan(plan).ok).toBe(true)
  expect(Object.keys(plan.devices).length).toBeGreaterThanOrEqual(200)
  expect(Object.keys(plan.segments)).toHaveLength(60)
  expect(Object.keys(plan.ports).length).toBeGreaterThan(4900)
})

it('chance is uniform enough to be fair', () => {
  const chance = chanceOf(9)
  const counts = Array.from({ length: 10 }, () => 0)
  for (let i = 0; i < 20_000; i++) counts[chance.between(0, 9)]!++
  // Chi-squared with 9 degrees of freedom: 27.9 is passed by chance once in a thousand.
  expect(counts.reduce((sum, n) => sum + (n - 2000) ** 2 / 2000, 0)).toBeLessThan(27.9)
})
