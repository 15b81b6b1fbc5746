/** How much longer each step may take, everybody doing what they do in the same order. */
import { CLEARS_PLACE, CLEARS_SITE, type OpenSteps } from './day'
import type { Placed } from './placing'

/**
 * Backwards from the end of the day: what comes after a step, for what it needs, for whose hands it
 * is in and for the place that it has to itself, says when it has to be over (critical path method,
 * with people and places as further needs). By number, s.
 */
export function slacksOf(day: OpenSteps, placed: Placed): Float64Array {
  const { work, wait, place, clears, followers } = day
  const ways = waysOf(day, placed)
  const total = placed.order.reduce(
    (t, n) => Math.max(t, placed.start[n]! + work[n]! + wait[n]!),
    day.from,
  )
  const late = new Float64Array(work.length)
  /** When each person has to set out next. */
  const setOut = new Float64Array(day.people).fill(Infinity)
  let clearSite = Infinity
  let anySite = Infinity
  const clearAt = new Float64Array(day.places.length).fill(Infinity)
  const anyAt = new Float64Array(day.places.length).fill(Infinity)
  for (const n of [...placed.order].reverse()) {
    let over = total - wait[n]!
    for (const f of followers[n]!) over = Math.min(over, late[f]! - wait[n]!)
    const who = [placed.person[n]!, placed.helper[n]!].filter((p) => p >= 0)
    for (const p of who) over = Math.min(over, setOut[p]!)
    over = Math.min(over, clearSite)
    const at = place[n]!
    if (at >= 0) {
      over = Math.min(over, clearAt[at]!)
      if (clears[n] === CLEARS_PLACE) over = Math.min(over, anyAt[at]!)
    }
    if (clears[n] === CLEARS_SITE) over = Math.min(over, anySite)
    const start = (late[n] = over - work[n]!)
    who.forEach((p, i) => {
      setOut[p] = start - ways[n]![i]!
    })
    anySite = Math.min(anySite, start)
    if (clears[n] === CLEARS_SITE) clearSite = Math.min(clearSite, start)
    if (at >= 0) {
      anyAt[at] = Math.min(anyAt[at]!, start)
      if (clears[n] === CLEARS_PLACE) clearAt[at] = Math.min(clearAt[at]!, start)
    }
  }
  return late.map((t, n) => t - placed.start[n]!)
}

/** The way of each who does a step, to it, s. */
function waysOf(day: OpenSteps, placed: Placed): readonly number[][] {
  const standing = [...day.standing]
  const ways: number[][] = day.steps.map(() => [])
  for (const n of placed.order)
    for (const p of [placed.person[n]!, placed.helper[n]!].filter((x) => x >= 0)) {
      const at = day.place[n]!
      ways[n]!.push(day.way(standing[p]!, at))
      if (at >= 0) standing[p] = at
    }
  return ways
}
