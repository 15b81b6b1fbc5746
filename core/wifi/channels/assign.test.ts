import { describe, expect, it } from 'vitest'
import { chanceOf } from '../../generator'
import { assignChannels, type Problem } from './assign'

/** A colouring of a graph: channels that do not overlap, each edge as bad as any. */
const colouring = (size: number, edges: readonly (readonly [number, number])[], colours: number) =>
  ({
    own: Array.from({ length: size }, () => new Array<number>(colours).fill(0)),
    overlap: Array.from({ length: colours }, (_, a) =>
      Array.from({ length: colours }, (_row, b) => (a === b ? 1 : 0)),
    ),
    pairs: edges.map(([a, b]) => ({ a, b, harm: 1 })),
  }) satisfies Problem

/** The graphs of Mycielski (1955): no triangle, and each needs one colour more. */
function mycielski(times: number): { size: number; edges: [number, number][] } {
  let size = 2
  let edges: [number, number][] = [[0, 1]]
  for (let t = 0; t < times; t++) {
    const more: [number, number][] = edges.flatMap(([a, b]): [number, number][] => [
      [a, b],
      [a, size + b],
      [b, size + a],
    ])
    for (let n = 0; n < size; n++) more.push([size + n, 2 * size])
    edges = more
    size = 2 * size + 1
  }
  return { size, edges }
}
/** Queens on a board of n x n that see each other. */
function queens(n: number): { size: number; edges: [number, number][] } {
  const edges: [number, number][] = []
  for (let a = 0; a < n * n; a++)
    for (let b = a + 1; b < n * n; b++) {
      const [r, c, s, d] = [Math.floor(a / n), a % n, Math.floor(b / n), b % n]
      if (r === s || c === d || Math.abs(r - s) === Math.abs(c - d)) edges.push([a, b])
    }
  return { size: n * n, edges }
}

describe('colourings whose number of colours is known', () => {
  it.each([
    // DIMACS graphs of colouring: myciel3 4, myciel4 5, queen5_5 5.
    ['myciel3', mycielski(2), 11, 4],
    ['myciel4', mycielski(3), 23, 5],
    ['queen5_5', queens(5), 25, 5],
    ['a ring of seven', { size: 7, edges: ring(7) }, 7, 3],
  ] as const)('%s takes its colours and not one fewer', (_, { size, edges }, nodes, colours) => {
    expect(size).toBe(nodes)
    const enough = assignChannels(colouring(size, edges, colours))
    expect([enough.cost, enough.isBest]).toEqual([0, true])
    for (const [a, b] of edges) expect(enough.channels[a]).not.toBe(enough.channels[b])
    expect(assignChannels(colouring(size, edges, colours - 1)).atLeast).toBeGreaterThan(0)
  })
  it('myciel5 with its six, found without looking through all', () => {
    const { size, edges } = mycielski(4)
    expect(assignChannels(colouring(size, edges, 6)).cost).toBe(0)
  })
})
function ring(n: number): [number, number][] {
  return Array.from({ length: n }, (_, i) => [i, (i + 1) % n])
}

/** Radios anywhere on 100 m, that disturb each other the more the nearer they hang. */
function randomProblem(seed: number, radios: number, channels: number): Problem {
  const chance = chanceOf(seed)
  const at = Array.from({ length: radios }, () => [100 * chance.next(), 100 * chance.next()])
  return {
    own: at.map(() =>
      Array.from({ length: channels }, () =>
        chance.happens(0.2) ? Infinity : Math.round(3 * chance.next()),
      ).map((v, c, row) => (c === 0 && !row.some(Number.isFinite) ? 0 : v)),
    ),
    overlap: Array.from({ length: channels }, (_, a) =>
      Array.from({ length: channels }, (_row, b) => Math.max(0, 1 - 0.5 * Math.abs(a - b))),
    ),
    pairs: at.flatMap(([x, y], a) =>
      at.flatMap(([u, v], b) => {
        const d = Math.hypot(x! - u!, y! - v!)
        return b > a && d < 60 ? [{ a, b, harm: Math.round(1000 / (5 + d)) / 10 }] : []
      }),
    ),
  }
}
function costOf({ own, overlap, pairs }: Problem, channels: readonly number[]): number {
  return (
    channels.reduce((sum, c, n) => sum + own[n]![c]!, 0) +
    pairs.reduce((sum, { a, b, harm }) => {
      const [x, y] = [channels[a]!, channels[b]!]
      return sum + harm * Math.max(overlap[x]![y]!, overlap[y]![x]!)
    }, 0)
  )
}

describe('a plan of channels', () => {
  it('is the best of all, where all can be tried', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const problem = randomProblem(seed, 6, 4)
      let least = Infinity
      for (let n = 0; n < 4 ** 6; n++) {
        const channels = Array.from({ length: 6 }, (_, i) => Math.floor(n / 4 ** i) % 4)
        least = Math.min(least, costOf(problem, channels))
      }
      const plan = assignChannels(problem)
      expect(plan.cost).toBeCloseTo(least, 9)
      expect(costOf(problem, plan.channels)).toBeCloseTo(plan.cost, 9)
      expect([plan.isBest, plan.atLeast]).toEqual([true, expect.closeTo(least, 9)])
    }
  })
  it('says how near the best it is, where they cannot', () => {
    const problem = randomProblem(77, 60, 3)
    const plan = assignChannels(problem, () => false, 20_000)
    expect(costOf(problem, plan.channels)).toBeCloseTo(plan.cost, 6)
    expect(plan.atLeast).toBeGreaterThan(0)
    expect(plan.atLeast).toBeLessThanOrEqual(plan.cost)
    // The search by itself, from one radio to the next, does no better.
    const once = costOf(
      problem,
      problem.own.map((row) => row.indexOf(Math.min(...row))),
    )
    expect(plan.cost).toBeLessThan(once)
  })
  it('uses no channel that is not allowed, and says where none is', () => {
    const problem = randomProblem(5, 12, 4)
    const { channels } = assignChannels(problem)
    for (const [n, c] of channels.entries()) expect(problem.own[n]![c]).toBeLessThan(Infinity)
    expect(() => assignChannels({ ...problem, own: [[Infinity]], pairs: [] })).toThrow(
      /may use no channel/,
    )
  })
  it('ends when it is stopped, with a whole plan', () => {
    const problem = randomProblem(9, 80, 3)
    const plan = assignChannels(problem, () => true)
    expect(plan.channels.every((c) => c >= 0)).toBe(true)
    expect(assignChannels({ own: [], overlap: [], pairs: [] }).channels).toEqual([])
  })
})
