/**
 * Channels for radios that hear each other: a colouring of the graph of who disturbs whom, with
 * weights. Exact where the search ends in time (branch and bound, the most bound radio first, after
 * Brelaz 1979, and of channels that are alike only one that is new); else the best that was found
 * by changing one at a time, with a bound from below out of groups that are solved by themselves.
 */

export interface Problem {
  /** By radio: what each channel costs by itself (neighbours on it); Infinity where it may not. */
  readonly own: readonly (readonly number[])[]
  /** How much of a channel another one takes, 0 to 1, by the numbers of both. */
  readonly overlap: readonly (readonly number[])[]
  /** Who is disturbed by whom when both are on the same channel, and how much. */
  readonly pairs: readonly { readonly a: number; readonly b: number; readonly harm: number }[]
}
export interface Assigned {
  /** The number of the channel, by radio. */ readonly channels: readonly number[]
  readonly cost: number
  /** No plan costs less than that. */ readonly atLeast: number
  readonly isBest: boolean
}

/** So many steps a search takes before it is left for what was found. */
const MOST_STEPS = 200_000
const CLOSE = 1e-9

interface Graph {
  readonly size: number
  readonly own: readonly (readonly number[])[]
  readonly overlap: readonly (readonly number[])[]
  readonly near: readonly (readonly (readonly [number, number])[])[]
}

/**
 * @throws RangeError of a radio that may use no channel
 */
export function assignChannels(
  problem: Problem,
  stop: () => boolean = () => false,
  mostSteps = MOST_STEPS,
): Assigned {
  const size = problem.own.length
  const nearer: [number, number][][] = Array.from({ length: size }, () => [])
  for (const { a, b, harm } of problem.pairs) {
    if (a === b || harm <= 0) continue
    nearer[a]!.push([b, harm])
    nearer[b]!.push([a, harm])
  }
  const graph: Graph = { size, own: problem.own, overlap: problem.overlap, near: nearer }
  for (const [n, row] of problem.own.entries())
    if (!row.some(Number.isFinite)) throw new RangeError(`radio ${n} may use no channel`)
  const channels = new Array<number>(size).fill(-1)
  let [cost, atLeast] = [0, 0]
  let isBest = true
  // Those that do not hear each other are planned apart.
  for (const part of partsOf(graph)) {
    const found = descend(graph, part, greedy(graph, part), stop)
    const exact = search(graph, part, found, mostSteps, stop)
    const bound = exact.isDone ? exact.cost : boundOf(graph, part, mostSteps, stop)
    isBest &&= exact.isDone || exact.cost <= bound + CLOSE
    cost += exact.cost
    atLeast += Math.min(bound, exact.cost)
    for (const [i, n] of part.entries()) channels[n] = exact.channels[i]!
  }
  return { channels, cost, atLeast, isBest }
}

function partsOf({ size, near }: Graph): number[][] {
  const seen = new Array<boolean>(size).fill(false)
  const parts: number[][] = []
  for (let n = 0; n < size; n++) {
    if (seen[n]) continue
    const part = [n]
    seen[n] = true
    for (const m of part)
      for (const [o] of near[m]!)
        if (!seen[o]) {
          seen[o] = true
          part.push(o)
        }
    parts.push(part)
  }
  return parts
}

const between = ({ overlap }: Graph, a: number, b: number, harm: number): number =>
  harm * Math.max(overlap[a]![b]!, overlap[b]![a]!)

/** What a channel costs a radio beside those that have theirs; -1 has none. */
function costAt(graph: Graph, n: number, channel: number, chosen: ArrayLike<number>): number {
  let sum = graph.own[n]![channel]!
  for (const [o, harm] of graph.near[n]!)
    if (chosen[o]! >= 0) sum += between(graph, channel, chosen[o]!, harm)
  return sum
}
function totalOf(graph: Graph, part: readonly number[], chosen: ArrayLike<number>): number {
  let sum = 0
  for (const n of part) {
    sum += graph.own[n]![chosen[n]!]!
    for (const [o, harm] of graph.near[n]!)
      if (o > n) sum += between(graph, chosen[n]!, chosen[o]!, harm)
  }
  return sum
}
const harmOf = ({ near }: Graph, n: number): number => near[n]!.reduce((sum, [, h]) => sum + h, 0)

/** The most disturbed first, each the best that is left. */
function greedy(graph: Graph, part: readonly number[]): Int32Array {
  const chosen = new Int32Array(graph.size).fill(-1)
  for (const n of [...part].sort((a, b) => harmOf(graph, b) - harmOf(graph, a)))
    chosen[n] = cheapest(graph, n, chosen)
  return chosen
}
function cheapest(graph: Graph, n: number, chosen: ArrayLike<number>): number {
  let [best, least] = [-1, Infinity]
  for (const channel of graph.own[n]!.keys()) {
    const cost = costAt(graph, n, channel, chosen)
    if (cost < least) [best, least] = [channel, cost]
  }
  return best
}

/** What was changed of late is left as it is (tabu search, Glover 1986). */
const TABU = 7
const PATIENCE = 60
/** One radio at a time, also for the worse, until nothing better came for long. */
function descend(
  graph: Graph,
  part: readonly number[],
  start: Int32Array,
  stop: () => boolean,
): Int32Array {
  const chosen = start.slice()
  let cost = totalOf(graph, part, chosen)
  let best = chosen.slice()
  let least = cost
  const free = new Map<string, number>()
  for (let round = 0, since = 0; since < PATIENCE + part.length && least > CLOSE; round++) {
    if (stop()) break
    let move: { n: number; channel: number; change: number } | null = null
    for (const n of part) {
      const now = costAt(graph, n, chosen[n]!, chosen)
      if (now <= CLOSE) continue
      for (const channel of graph.own[n]!.keys()) {
        if (channel === chosen[n] || !Number.isFinite(graph.own[n]![channel]!)) continue
        const change = costAt(graph, n, channel, chosen) - now
        const isTabu = (free.get(`${n} ${channel}`) ?? 0) > round
        if (isTabu && cost + change >= least - CLOSE) continue
        if (!move || change < move.change) move = { n, channel, change }
      }
    }
    if (!move) break
    free.set(`${move.n} ${chosen[move.n]!}`, round + TABU)
    chosen[move.n] = move.channel
    cost += move.change
    since++
    if (cost < least - CLOSE) {
      least = cost
      best = chosen.slice()
      since = 0
    }
  }
  return best
}

interface Searched {
  /** In the order of the part. */ readonly channels: readonly number[]
  readonly cost: number
  readonly isDone: boolean
}
function search(
  graph: Graph,
  part: readonly number[],
  found: ArrayLike<number>,
  mostSteps: number,
  stop: () => boolean,
): Searched {
  let best = part.map((n) => found[n]!)
  let least = totalOf(graph, part, found)
  const alike = alikeOf(graph, part)
  const count = graph.overlap.length
  const chosen = new Int32Array(graph.size).fill(-1)
  const used = new Int32Array(count)
  // What each channel costs each radio beside those chosen so far.
  const costs = graph.own.map((row) => Float64Array.from(row))
  let steps = 0
  let isCut = false
  const walk = (depth: number, cost: number): void => {
    if (isCut || least <= CLOSE) return
    if (++steps > mostSteps || (steps % 1000 === 0 && stop())) {
      isCut = true
      return
    }
    if (depth === part.length) {
      if (cost < least - CLOSE) {
        least = cost
        best = part.map((n) => chosen[n]!)
      }
      return
    }
    // The one that has the least to lose by waiting goes last.
    let [next, need, bound] = [-1, -Infinity, cost]
    for (const n of part) {
      if (chosen[n]! >= 0) continue
      const row = costs[n]!
      let [low, second] = [Infinity, Infinity]
      for (let c = 0; c < count; c++) {
        const v = row[c]!
        if (v < low) [low, second] = [v, low]
        else if (v < second) second = v
      }
      bound += low
      const urgency = (Number.isFinite(second) ? second - low : 1e9) + 1e-3 * harmOf(graph, n)
      if (urgency > need) [next, need] = [n, urgency]
    }
    if (bound >= least - CLOSE) return
    const order = [...costs[next]!.keys()]
      .filter((c) => Number.isFinite(costs[next]![c]!))
      .sort((a, b) => costs[next]![a]! - costs[next]![b]!)
    const begun = new Set<number>()
    for (const channel of order) {
      // Of channels that are alike and that nobody has yet, one stands for all.
      if (used[channel] === 0) {
        if (begun.has(alike[channel]!)) continue
        begun.add(alike[channel]!)
      }
      const here = costs[next]![channel]!
      chosen[next] = channel
      used[channel]!++
      for (const [o, harm] of graph.near[next]!)
        if (chosen[o]! < 0)
          for (let c = 0; c < count; c++) costs[o]![c]! += between(graph, c, channel, harm)
      walk(depth + 1, cost + here)
      for (const [o, harm] of graph.near[next]!)
        if (chosen[o]! < 0)
          for (let c = 0; c < count; c++) costs[o]![c]! -= between(graph, c, channel, harm)
      used[channel]!--
      chosen[next] = -1
      if (isCut) return
    }
  }
  walk(0, 0)
  return { channels: best, cost: least, isDone: !isCut }
}

/** Channels that could change places without anybody noticing, by the first of their kind. */
function alikeOf({ own, overlap }: Graph, part: readonly number[]): number[] {
  const isAlike = (a: number, b: number): boolean =>
    part.every((n) => own[n]![a] === own[n]![b]) &&
    overlap[a]![a] === overlap[b]![b] &&
    overlap[a]![b] === overlap[b]![a] &&
    overlap.every(
      (_, c) =>
        c === a ||
        c === b ||
        (overlap[a]![c] === overlap[b]![c] && overlap[c]![a] === overlap[c]![b]),
    )
  return overlap.map((_, c) => overlap.findIndex((_row, first) => first === c || isAlike(first, c)))
}

/** Groups of so many are solved by themselves for the bound. */
const GROUP = 8
/** What groups that have nobody in common cost at the least: all that is left out only adds. */
function boundOf(
  graph: Graph,
  part: readonly number[],
  mostSteps: number,
  stop: () => boolean,
): number {
  const left = new Set(part)
  let sum = 0
  while (left.size > 0) {
    // The most disturbed of those that are left, and who of them disturbs the group the most.
    const group: number[] = []
    const pull = new Map<number, number>()
    let next = [...left].reduce((a, b) => (harmOf(graph, b) > harmOf(graph, a) ? b : a))
    for (;;) {
      group.push(next)
      left.delete(next)
      pull.delete(next)
      for (const [o, harm] of graph.near[next]!)
        if (left.has(o)) pull.set(o, (pull.get(o) ?? 0) + harm)
      if (group.length === GROUP || pull.size === 0) break
      next = [...pull].reduce((a, b) => (b[1] > a[1] ? b : a))[0]
    }
    const inside = new Set(group)
    const alone: Graph = {
      ...graph,
      near: graph.near.map((list, n) => (inside.has(n) ? list.filter(([o]) => inside.has(o)) : [])),
    }
    const { cost, isDone } = search(alone, group, greedy(alone, group), mostSteps, stop)
    if (isDone) sum += cost
    else sum += group.reduce((s, n) => s + Math.min(...graph.own[n]!), 0)
  }
  return sum
}
