/** Who is served by a line, and by which others they go when it dies. */
import { worksShare, type Failing } from './failing'
import type { WatchedLine } from './watchedLine'

/** With more lines than that the last ones are not looked at: 2 to the power of it are gone through. */
const MOST_OTHERS = 10

export interface WaysAfter {
  /**
   * When this line dies: the share of the people that it served, over all states of the others in
   * which one of them works, by how long the other has to start.
   */
  readonly ways: readonly { readonly startSeconds: number; readonly share: number }[]
  /** The chance that it serves anybody, and that there is another. */ readonly carries: number
}

/** The shares of lines that work: those of the lowest order, by their weights. */
export function sharesOf(
  alive: readonly Pick<WatchedLine, 'order' | 'weight'>[],
): readonly number[] {
  const order = Math.min(...alive.map((l) => l.order))
  const used = alive.filter((l) => l.order === order)
  const all = used.reduce((sum, l) => sum + l.weight, 0)
  return alive.map((l) => (l.order !== order ? 0 : all === 0 ? 1 / used.length : l.weight / all))
}

/** Until another leads anywhere when it takes over from a line, s: one that shared with it is there. */
export const startAfter = (line: WatchedLine, next: WatchedLine): number =>
  next.order === line.order && (next.weight > 0 || line.weight === 0) ? 0 : next.coldSeconds

/**
 * @param which of the lines dies; the others fail by themselves, with what it does not lie on
 * @param of what it dies of: whatever else lies on it is dead too; null where only its tests fail
 */
export function waysAfter(
  lines: readonly WatchedLine[],
  which: number,
  of: Failing | null,
): WaysAfter {
  const line = lines[which]!
  const theirs = [line.failing, ...line.parts]
  const others = lines
    .filter((_, i) => i !== which)
    .slice(0, MOST_OTHERS)
    .map((l) => {
      const things = [l.failing, ...l.parts]
      const works = worksShare(things.filter((f) => !theirs.some((t) => t.id === f.id)))
      return { line: l, works, diesToo: things.some((f) => f.id === of?.id) }
    })
  const byStart = new Map<number, number>()
  let carries = 0
  for (let state = 1; state < 1 << others.length; state++) {
    const before = others.filter((_, i) => state & (1 << i))
    const alive = before.filter((o) => !o.diesToo).map((o) => o.line)
    const [share] = sharesOf([line, ...before.map((o) => o.line)])
    if (!share || alive.length === 0) continue
    const chance = others.reduce((p, o, i) => p * (state & (1 << i) ? o.works : 1 - o.works), 1)
    if (chance === 0) continue
    carries += chance
    const shares = sharesOf(alive)
    for (const [i, next] of alive.entries()) {
      const startSeconds = startAfter(line, next)
      if (shares[i]! > 0)
        byStart.set(startSeconds, (byStart.get(startSeconds) ?? 0) + chance * share * shares[i]!)
    }
  }
  return {
    ways: [...byStart].map(([startSeconds, share]) => ({ startSeconds, share })),
    carries,
  }
}
