/** The steps of a day as numbers, for what looks for a good order of them. */
import type { Step } from '../step'
import type { Travel } from './travel'

/** What was done of the day, and where everybody stands. All in s from the start of the day. */
export interface Progress {
  readonly nowSeconds: number
  /** By step; when its wait is over too. */
  readonly endedSeconds: ReadonlyMap<string, number>
  /** Where each person is; nobody knows of those who are not in it. */
  readonly standing: readonly (string | null)[]
}

/** Of nothing, of what else is done at the same place, of everything else on the site. */
export const CLEARS_NOTHING = 0
export const CLEARS_PLACE = 1
export const CLEARS_SITE = 2

/** By number; steps that were done are not among them. */
export interface OpenSteps {
  readonly steps: readonly Step[]
  readonly people: number
  /** s */
  readonly work: Float64Array
  readonly wait: Float64Array
  /** The longest way of work and waits from its start to the end of the day, s. */
  readonly tail: Float64Array
  /** Earliest, for what was done before it, s. */
  readonly readyAt: Float64Array
  /** Number of the place; -1 where it does not matter. */
  readonly place: Int32Array
  readonly places: readonly string[]
  readonly clears: Uint8Array
  /** How many people it takes, of those that there are. */
  readonly hands: Uint8Array
  readonly isOutage: Uint8Array
  readonly needs: readonly (readonly number[])[]
  readonly followers: readonly (readonly number[])[]
  /** From place to place, s; -1 is nowhere in particular. */
  way(from: number, to: number): number
  /** Where each person stands at first, and from when on they are free, s. */
  readonly standing: readonly number[]
  readonly from: number
}

/** @throws Error where a step needs one that is not on the sheet, or they go in a circle. */
export function openSteps(
  all: readonly Step[],
  people: number,
  travel: Travel,
  progress?: Progress,
): OpenSteps {
  const ended = progress?.endedSeconds ?? new Map<string, number>()
  const known = new Set(all.map((s) => s.id))
  const steps = all.filter((s) => !ended.has(s.id))
  const at = new Map(steps.map((s, i) => [s.id, i]))
  const from = progress?.nowSeconds ?? 0
  const readyAt = new Float64Array(steps.length).fill(from)
  const followers: number[][] = steps.map(() => [])
  const needs = steps.map((s, i) =>
    [...new Set(s.needs)].flatMap((n) => {
      const before = at.get(n)
      if (before !== undefined) {
        followers[before]!.push(i)
        return [before]
      }
      if (!known.has(n)) throw new Error('a step needs one that is not on the sheet')
      readyAt[i] = Math.max(readyAt[i]!, ended.get(n)!)
      return []
    }),
  )
  const numbers = new Map<string, number>()
  const numberOf = (place: string | null): number => {
    if (place === null) return -1
    const n = numbers.get(place) ?? numbers.size
    numbers.set(place, n)
    return n
  }
  const standing = Array.from({ length: people }, (_, p) => numberOf(progress?.standing[p] ?? null))
  const place = Int32Array.from(steps, (s) => numberOf(s.locationId))
  const places = [...numbers.keys()]
  const ways = new Map<number, number>()
  return {
    steps,
    people,
    work: Float64Array.from(steps, (s) => s.workSeconds),
    wait: Float64Array.from(steps, (s) => s.waitSeconds),
    tail: tails(steps, needs, followers),
    readyAt,
    place,
    places,
    clears: Uint8Array.from(steps, (s) =>
      s.clears === 'site' ? CLEARS_SITE : s.clears === 'place' ? CLEARS_PLACE : CLEARS_NOTHING,
    ),
    hands: Uint8Array.from(steps, (s) => Math.min(s.hands, people)),
    isOutage: Uint8Array.from(steps, (s) => Number(s.isOutage)),
    needs,
    followers,
    way(a, b) {
      if (a < 0 || b < 0 || a === b) return 0
      const key = a * places.length + b
      let seconds = ways.get(key)
      if (seconds === undefined) ways.set(key, (seconds = travel(places[a]!, places[b]!)))
      return seconds
    },
    standing,
    from,
  }
}

/** Backwards over the order of what needs what (Kahn 1962). */
function tails(
  steps: readonly Step[],
  needs: readonly (readonly number[])[],
  followers: readonly (readonly number[])[],
): Float64Array {
  const tail = new Float64Array(steps.length)
  const waiting = followers.map((f) => f.length)
  const ready = waiting.flatMap((n, i) => (n === 0 ? [i] : []))
  let seen = 0
  for (let i = ready.pop(); i !== undefined; i = ready.pop()) {
    seen += 1
    let after = 0
    for (const f of followers[i]!) after = Math.max(after, tail[f]!)
    tail[i] = steps[i]!.workSeconds + steps[i]!.waitSeconds + after
    for (const n of needs[i]!) if (--waiting[n]! === 0) ready.push(n)
  }
  if (seen < steps.length) throw new Error('the steps of the day go in a circle')
  return tail
}

/**
 * No day ends sooner, whatever the order, s: the longest way through what needs what; all hands on
 * at once; what clears the site with all else around it.
 */
export function boundOf(day: OpenSteps): number {
  let longest = day.from
  let all = 0
  let alone = 0
  for (let i = 0; i < day.steps.length; i += 1) {
    longest = Math.max(longest, day.readyAt[i]! + day.tail[i]!)
    if (day.clears[i] === CLEARS_SITE) alone += day.work[i]!
    else all += day.work[i]! * day.hands[i]!
  }
  return Math.max(longest, day.from + alone + all / day.people)
}
