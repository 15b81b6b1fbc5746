/**
 * Where to hang access points: of the places that there are, those that serve the most. What a
 * further one adds shrinks with each that hangs (a submodular sum), so that taking the best each
 * time comes to within 1 - 1/e of the best set (Nemhauser, Wolsey and Fisher 1978), and what the
 * best that are left would add bounds from above what any set can reach.
 */

/** What a place would serve. */
export interface Candidate {
  readonly id: string
  /** Numbers of the points that it serves well enough. */ readonly points: readonly number[]
}
export interface Placed {
  readonly ids: readonly string[]
  /** Weight that is served. */ readonly served: number
  /** No set of as many serves more than that. */ readonly atMost: number
  /** Whether it is known to be the best: looked through, or at its bound. */ readonly isBest: boolean
}

/** Sets of so many are looked through one by one. */
const MOST_LOOKED_THROUGH = 200_000

/**
 * @param count how many hang at the most
 * @param weights of each point: heads, or area
 * @param stop asked now and then; true ends it with what was found
 */
export function placeBest(
  candidates: readonly Candidate[],
  count: number,
  weights: readonly number[],
  stop: () => boolean = () => false,
): Placed {
  const most = Math.min(count, candidates.length)
  const cover = new Int32Array(weights.length)
  const chosen: number[] = []
  let served = 0
  const gainOf = (c: number): number => {
    let sum = 0
    for (const p of candidates[c]!.points) if (cover[p] === 0) sum += weights[p]!
    return sum
  }
  const lossOf = (c: number): number => {
    let sum = 0
    for (const p of candidates[c]!.points) if (cover[p] === 1) sum += weights[p]!
    return sum
  }
  const put = (c: number, by: 1 | -1): void => {
    for (const p of candidates[c]!.points) cover[p]! += by
  }
  // The bound at every stage: what is served, and what the best of the rest would add to it.
  let atMost = weights.reduce((sum, w) => sum + w, 0)
  const bound = (): void => {
    const gains = candidates.map((_, c) => gainOf(c)).sort((a, b) => b - a)
    const top = gains.slice(0, most).reduce((sum, g) => sum + g, 0)
    atMost = Math.min(atMost, served + top)
  }
  while (chosen.length < most && !stop()) {
    bound()
    let [best, bestGain] = [-1, 0]
    for (const c of candidates.keys()) {
      const gain = gainOf(c)
      if (gain > bestGain) [best, bestGain] = [c, gain]
    }
    if (best < 0) break
    chosen.push(best)
    put(best, 1)
    served += bestGain
  }
  bound()
  // Each in turn for another, as long as that serves more.
  for (let isBetter = true; isBetter && !stop();) {
    isBetter = false
    for (const [n, c] of chosen.entries()) {
      const lost = lossOf(c)
      put(c, -1)
      let [best, bestGain] = [c, lost]
      for (const other of candidates.keys()) {
        const gain = gainOf(other)
        if (gain > bestGain + 1e-9) [best, bestGain] = [other, gain]
      }
      put(best, 1)
      chosen[n] = best
      served += bestGain - lost
      if (best !== c) isBetter = true
    }
  }
  bound()
  let isBest = served >= atMost - 1e-9
  if (!isBest && choose(candidates.length, most) <= MOST_LOOKED_THROUGH && !stop()) {
    const [list, sum] = lookThrough(candidates, most, weights)
    if (sum > served + 1e-9) {
      chosen.splice(0, chosen.length, ...list)
      served = sum
    }
    atMost = served
    isBest = true
  }
  return { ids: chosen.map((c) => candidates[c]!.id), served, atMost, isBest }
}

function choose(n: number, k: number): number {
  let out = 1
  for (let i = 1; i <= k; i++) out = (out * (n - k + i)) / i
  return out
}
function lookThrough(
  candidates: readonly Candidate[],
  count: number,
  weights: readonly number[],
): [number[], number] {
  let best: [number[], number] = [[], -1]
  const cover = new Int32Array(weights.length)
  const walk = (from: number, list: number[], sum: number): void => {
    if (sum > best[1]) best = [[...list], sum]
    if (list.length === count) return
    for (let c = from; c < candidates.length; c++) {
      let more = 0
      for (const p of candidates[c]!.points) if (cover[p]!++ === 0) more += weights[p]!
      walk(c + 1, [...list, c], sum + more)
      for (const p of candidates[c]!.points) cover[p]!--
    }
  }
  walk(0, [], 0)
  return best
}

export interface Needed {
  /** null where even all of them do not. */ readonly placed: Placed | null
  /** Fewer than that cannot. */ readonly atLeast: number
}
/** How few serve so much of all the weight. */
export function placeFewest(
  candidates: readonly Candidate[],
  share: number,
  weights: readonly number[],
  stop: () => boolean = () => false,
): Needed {
  const goal = share * weights.reduce((sum, w) => sum + w, 0) - 1e-9
  let atLeast = 0
  for (let count = 0; count <= candidates.length && !stop(); count++) {
    const placed = placeBest(candidates, count, weights, stop)
    if (placed.served >= goal) return { placed, atLeast: Math.min(atLeast, count) }
    if (placed.atMost < goal) atLeast = count + 1
    // What another adds to none, none of more will.
    if (placed.ids.length < count) break
  }
  return { placed: null, atLeast }
}
