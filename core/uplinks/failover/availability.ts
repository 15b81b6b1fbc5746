/**
 * Lines side by side with shared parts: the least sets of things that take the site down together
 * (minimal cuts), and the chance of it, exact by factoring over the shared parts.
 */

/** A line itself, or a part that several lines lie on; each fails by itself. */
export interface Component {
  readonly id: string
  /** The share of time in which it is down, 0 to 1. */
  readonly down: number
}
export interface LineParts {
  /** Of the line by itself. */ readonly own: Component
  readonly parts: readonly Component[]
}
export interface Cut {
  readonly ids: readonly string[]
  /** Share of time in which all of them are down. */
  readonly down: number
}
export interface Availability {
  /** Share of time in which no line works, exact. */
  readonly allDown: number
  /** Of it, with no shared part down: the lines only happened to be down together. */
  readonly byCoincidence: number
}

/** More shared parts than anybody names; the work doubles with each. */
export const MOST_SHARED_PARTS = 16

/** What more than one line lies on. */
export function sharedBy(lines: readonly LineParts[]): Component[] {
  const all = lines.flatMap(({ parts }) => unique(parts))
  return unique(all).filter(({ id }) => all.filter((c) => c.id === id).length > 1)
}

/**
 * @param lines each with what it lies on; parts of the same id are the same thing
 * @throws RangeError where more than `MOST_SHARED_PARTS` parts are shared
 */
export function availabilityOf(lines: readonly LineParts[]): Availability {
  const [first] = lines
  if (!first) return { allDown: 1, byCoincidence: 1 }
  const shared = sharedBy(lines)
  const isShared = new Set(shared.map((c) => c.id))
  if (shared.length > MOST_SHARED_PARTS)
    throw new RangeError(
      `${shared.length} parts are shared; more than ${MOST_SHARED_PARTS} are not reckoned with`,
    )
  // What only one line lies on fails with it.
  const alone = lines.map(({ own, parts }) =>
    oneDown([own, ...unique(parts).filter((p) => !isShared.has(p.id))]),
  )
  const onShared = lines.map(({ parts }) =>
    shared.reduce((mask, s, i) => (parts.some((p) => p.id === s.id) ? mask | (1 << i) : mask), 0),
  )
  let allDown = 0
  let byCoincidence = 0
  for (let state = 0; state < 1 << shared.length; state++) {
    const chance = shared.reduce((p, s, i) => p * (state & (1 << i) ? s.down : 1 - s.down), 1)
    const down = alone.reduce((p, u, i) => p * (onShared[i]! & state ? 1 : u), chance)
    allDown += down
    if (state === 0) byCoincidence = down
  }
  return { allDown, byCoincidence }
}

const unique = (parts: readonly Component[]): Component[] => [
  ...new Map(parts.map((p) => [p.id, p])).values(),
]
/** At least one of several. */
const oneDown = (components: readonly Component[]): number => {
  let sum = 0
  // One after the other, so that small shares are added and not subtracted from one.
  for (const { down } of components) sum += (1 - sum) * down
  return sum
}

/**
 * Minimal cuts: sets of components that hit every line, with none that could be left out; the
 * likeliest first. Of very many only the smallest.
 */
export function cutsOf(lines: readonly LineParts[]): Cut[] {
  const known = new Map(lines.flatMap((l) => [l.own, ...l.parts]).map((c) => [c.id, c]))
  let sets: ReadonlySet<string>[] = [new Set()]
  for (const { own, parts } of lines) {
    const ids = [own.id, ...new Set(parts.map((p) => p.id))]
    const longer = sets.flatMap((set) =>
      ids.some((id) => set.has(id)) ? [set] : ids.map((id) => new Set([...set, id])),
    )
    sets = leastOf(longer)
  }
  return sets
    .map((set) => ({
      ids: [...set],
      down: [...set].reduce((p, id) => p * known.get(id)!.down, 1),
    }))
    .sort((a, b) => b.down - a.down || a.ids.length - b.ids.length)
}
/** More sets than anybody reads. */
const MOST_CUTS = 100
function leastOf(sets: readonly ReadonlySet<string>[]): ReadonlySet<string>[] {
  const kept: ReadonlySet<string>[] = []
  for (const set of [...sets].sort((a, b) => a.size - b.size)) {
    if (kept.length === MOST_CUTS) break
    if (!kept.some((k) => [...k].every((id) => set.has(id)))) kept.push(set)
  }
  return kept
}
