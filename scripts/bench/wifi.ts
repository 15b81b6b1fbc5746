/**
 * Levels on a hectare beside loops over every wall for every point, and beside one pass without
 * walls; one access point that is moved, beside a frame; channels for 200 radios beside a greedy
 * colouring.
 */
import { chanceOf } from '@mast/core/generator'
import { assignChannels } from '../../core/wifi/channels/assign'
import { crossedBy } from '../../core/wifi/measured/crossings'
import { levelsOf } from '../../core/wifi/coverage/levels'
import { pointOf, type Grid, type Sender, type Wall } from '../../core/wifi/coverage/place'
import { row, type Row } from './measure'

const SIDE_M = 100
const STEP_M = 0.5
const SENDERS = 20
const WALLS = 500
/** A frame at 60 a second, ms. */
const FRAME_MS = 1000 / 60
const RADIOS = 200
const CHANNELS = 8

const chance = chanceOf(11)
const any = (most: number): number => chance.next() * most
const timed = (work: () => void): number => {
  const start = performance.now()
  work()
  return performance.now() - start
}

export function wifi(): Row[] {
  const columns = SIDE_M / STEP_M
  const grid: Grid = { x0: 0.25, y0: 0.25, stepM: STEP_M, columns, rows: columns }
  const senders = Array.from({ length: SENDERS }, (): Sender => ({
    ...{ at: { x: any(SIDE_M), y: any(SIDE_M) }, aboveM: 1.4, mhz: 5500, eirpDbm: 23, beam: null },
  }))
  const walls = Array.from({ length: WALLS }, (): Wall => {
    const a = { x: any(SIDE_M), y: any(SIDE_M) }
    return { a, b: { x: a.x + any(8) - 4, y: a.y + any(8) - 4 }, lossDb: 3 + any(12) }
  })
  const law = { coefficient: 30 }
  const all = (over: readonly Wall[]): number =>
    timed(() => {
      for (const s of senders) levelsOf(grid, s, over, law)
    })
  all(walls)
  all([])
  const here = all(walls)
  const plain = all([])
  // One sender by loops over every wall, for all of them.
  const loops =
    SENDERS *
    timed(() => {
      let sum = 0
      for (let n = 0; n < columns * columns; n++)
        sum += crossedBy(
          pointOf(grid, n % columns, Math.floor(n / columns)),
          senders[0]!.at,
          walls,
        ).length
      if (sum < 0) throw new Error('nothing was crossed')
    })
  const moved = timed(() => levelsOf(grid, senders[0]!, walls, law))

  const radios = Array.from({ length: RADIOS }, () => ({ x: any(300), y: any(300) }))
  const pairs = radios.flatMap((a, i) =>
    radios.slice(0, i).flatMap((b, j) => {
      const metres = Math.hypot(a.x - b.x, a.y - b.y)
      return metres < 45 ? [{ a: j, b: i, harm: 1 - metres / 45 }] : []
    }),
  )
  const overlap = Array.from({ length: CHANNELS }, (_, a) =>
    Array.from({ length: CHANNELS }, (__, b) => (a === b ? 1 : 0)),
  )
  const own = radios.map(() => new Array<number>(CHANNELS).fill(0))
  const greedy = (): number => {
    const chosen = new Int32Array(RADIOS).fill(-1)
    let cost = 0
    for (let n = 0; n < RADIOS; n++) {
      const costs = new Float64Array(CHANNELS)
      for (const p of pairs) {
        const other = p.a === n ? p.b : p.b === n ? p.a : -1
        if (other >= 0 && chosen[other]! >= 0) costs[chosen[other]!]! += p.harm
      }
      chosen[n] = costs.indexOf(Math.min(...costs))
      cost += costs[chosen[n]!]!
    }
    return cost
  }
  greedy()
  let greedyCost = 0
  const greedyMs = timed(() => {
    for (let n = 0; n < 20; n++) greedyCost = greedy()
  })
  let cost = 0
  const planMs = timed(() => {
    cost = assignChannels({ own, overlap, pairs }).cost
  })
  return [
    row({
      name: 'coverage of 1 ha at 0.5 m, 20 senders, 500 walls',
      value: here,
      unit: 'ms',
      reference: 'loops over every wall for every point, ms',
      referenceValue: loops,
      aim: '20 times faster',
      met: (r) => r <= 1 / 20,
    }),
    row({
      name: 'the same',
      value: here,
      unit: 'ms',
      reference: 'one pass without walls, ms',
      referenceValue: plain,
      aim: 'within 10 of it',
      met: (r) => r <= 10,
    }),
    row({
      name: 'one access point moved',
      value: moved,
      unit: 'ms',
      reference: 'a frame, ms',
      referenceValue: FRAME_MS,
      aim: 'within a frame',
      met: (r) => r <= 1,
    }),
    row({
      name: 'channels for 200 radios: what is disturbed',
      value: cost,
      unit: '',
      reference: 'greedy colouring',
      referenceValue: greedyCost,
      aim: 'no more than it',
      met: (r) => r <= 1,
    }),
    row({
      name: 'channels for 200 radios: time',
      value: planMs,
      unit: 'ms',
      reference: '20 greedy colourings, ms',
      referenceValue: greedyMs,
      aim: 'within 200 of them',
      met: (r) => r <= 200,
    }),
  ]
}
