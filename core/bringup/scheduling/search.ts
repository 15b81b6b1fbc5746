/**
 * A good order of the day. Of a few steps the best that there is, by branch and bound; of more the
 * best of several greedy orders, bettered by moving what delays the whole.
 */
import { boundOf, type OpenSteps } from './day'
import { inOrderOf, Placing, weigh, type Placed } from './placing'

/** So many steps are tried in every order, for as long as that is affordable. */
const ALL_ORDERS_MOST = 7
const TRIED_MOST = 400_000
/** Steps put into the day while an order is bettered. */
const EFFORT = 24_000
/** With more steps that could start, not all are weighed. */
const WEIGHED_MOST = 64

export function bestOrder(day: OpenSteps): Placed {
  if (day.steps.length === 0) return new Placing(day).placed
  const greedy = bestGreedy(day)
  if (day.steps.length <= ALL_ORDERS_MOST) return everyOrder(day, greedy)
  return bettered(day, greedy)
}

/** What a greedy order holds against a step: its start, the way to it, and what is after it. */
interface Rule {
  readonly start: number
  readonly way: number
  readonly tail: number
}
const rules: readonly Rule[] = [
  // What can start first, and of that the longest: no hand is idle that could work.
  { start: 1, way: 0, tail: 1e-6 },
  { start: 1, way: 0, tail: 0.03 },
  // Rather wait here a little than go and come back.
  { start: 1, way: 1, tail: 0.03 },
  { start: 1, way: 2, tail: 1 },
  { start: 1, way: 0, tail: 0.3 },
  { start: 1, way: 1, tail: 1 },
  { start: 0, way: 0, tail: 1 },
]

function bestGreedy(day: OpenSteps): Placing {
  let best: Placing | undefined
  let left = EFFORT
  const bound = boundOf(day)
  for (const rule of rules) {
    const found = greedyBy(day, rule)
    if (!best || weigh(found.cost) < weigh(best.cost)) best = found
    left -= day.steps.length
    if (left <= 0 || best.totalSeconds <= bound) break
  }
  return best!
}

function greedyBy(day: OpenSteps, rule: Rule): Placing {
  const placing = new Placing(day)
  const waiting = day.needs.map((n) => n.length)
  let eligible = waiting.flatMap((n, i) => (n === 0 ? [i] : []))
  while (eligible.length > 0) {
    const weighed = eligible.length <= WEIGHED_MOST ? eligible : ofEachPlace(day, placing, eligible)
    let next = -1
    let who = { person: -1, helper: -1, start: Infinity, travel: Infinity }
    let least = Infinity
    for (const n of weighed) {
      const by = placing.best(n)
      const weight = by.start * rule.start + by.travel * rule.way - day.tail[n]! * rule.tail
      if (weight < least || (weight === least && n < next)) [next, who, least] = [n, by, weight]
    }
    placing.put(next, who.person, who.helper)
    eligible = eligible.filter((n) => n !== next)
    for (const f of day.followers[next]!) if (--waiting[f]! === 0) eligible.push(f)
  }
  return placing
}

/** Of each place the longest that can start now, the longest of all, and the first to be ready. */
function ofEachPlace(day: OpenSteps, placing: Placing, eligible: readonly number[]): number[] {
  const now = Math.min(...placing.free)
  const width = day.places.length + 1
  const startable = new Int32Array(width).fill(-1)
  const longest = new Int32Array(width).fill(-1)
  const first = new Int32Array(width).fill(-1)
  for (const n of eligible) {
    const p = day.place[n]! + 1
    const better = (of: Int32Array, isBetter: (than: number) => boolean): void => {
      if (of[p]! < 0 || isBetter(of[p]!)) of[p] = n
    }
    const isLonger = (than: number): boolean => day.tail[n]! > day.tail[than]!
    better(longest, isLonger)
    if (placing.ready[n]! <= now) better(startable, isLonger)
    better(first, (than) => placing.ready[n]! < placing.ready[than]!)
  }
  return [...new Set([...startable, ...longest, ...first])].filter((n) => n >= 0)
}

/** Steps that delay the whole are moved forward in the order, for as long as that is affordable. */
function bettered(day: OpenSteps, from: Placing): Placed {
  let best = from
  const n = day.steps.length
  const bound = boundOf(day)
  const tries = Math.floor(EFFORT / n)
  const random = randomFrom(n)
  for (let k = 0; k < tries && best.totalSeconds > bound; k += 1) {
    const order = moved(day, best, random)
    if (!order) continue
    const found = inOrderOf(day, order)
    if (weigh(found.cost) <= weigh(best.cost)) best = found
  }
  return best.placed
}

/** What one person does in a row at one place, or one step of it, put before what it does not need. */
function moved(day: OpenSteps, from: Placing, random: () => number): number[] | undefined {
  const order = from.order.slice()
  const at = Math.floor(random() * order.length)
  const block = random() < 0.5 ? [order[at]!] : rowAt(day, from, at)
  const isIn = new Set(block)
  const rest = order.filter((n) => !isIn.has(n))
  const begin = rest.length - order.slice(at).filter((n) => !isIn.has(n)).length
  const needs = new Set(block.flatMap((n) => day.needs[n]!))
  let earliest = begin
  while (earliest > 0 && !needs.has(rest[earliest - 1]!)) earliest -= 1
  if (earliest === begin) return undefined
  rest.splice(earliest + Math.floor(random() * (begin - earliest)), 0, ...block)
  return rest
}

/** What whoever does a step does from then on without leaving the place or waiting for others. */
function rowAt(day: OpenSteps, from: Placing, at: number): number[] {
  const first = from.order[at]!
  const row = [first]
  const between = new Set<number>()
  for (const n of from.order.slice(at + 1)) {
    const isOwn = from.person[n] === from.person[first]
    const leaves = day.place[n]! >= 0 && day.place[n] !== day.place[first]
    if (isOwn && (leaves || day.needs[n]!.some((x) => between.has(x)))) break
    if (isOwn) row.push(n)
    else between.add(n)
  }
  return row
}

/** The same numbers for the same day: mulberry32, which is in the public domain. */
function randomFrom(seed: number): () => number {
  let a = seed >>> 0
  return () => {
    a = (a + 0x6d2b79f5) | 0
    let t = Math.imul(a ^ (a >>> 15), 1 | a)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
}

/** Every order and everybody, but what cannot be better than what was found is not followed. */
function everyOrder(day: OpenSteps, from: Placing): Placed {
  let best = from.placed
  let least = weigh(from.cost)
  const n = day.steps.length
  const placing = new Placing(day, true)
  const waiting = day.needs.map((x) => x.length)
  const isIn = new Uint8Array(n)
  const canBeBetter = (): boolean => {
    let total = placing.totalSeconds
    const first = Math.min(...placing.free)
    for (let i = 0; i < n; i += 1)
      if (!isIn[i]) total = Math.max(total, Math.max(first, placing.ready[i]!) + day.tail[i]!)
    return weigh({ ...placing.cost, totalSeconds: total }) < least
  }
  const pairs = (hands: number): [number, number][] =>
    Array.from({ length: day.people }, (_, a) => a).flatMap((a): [number, number][] =>
      hands === 2
        ? Array.from({ length: day.people - a - 1 }, (_, b): [number, number] => [a, a + 1 + b])
        : [[a, -1]],
    )
  const who = [pairs(1), pairs(1), pairs(2)]
  let tried = 0
  /** Somebody who is free as early at the same place was tried before. */
  const isLike = (a: number): boolean => {
    for (let p = 0; p < a; p += 1)
      if (placing.free[p] === placing.free[a] && placing.standing[p] === placing.standing[a])
        return true
    return false
  }
  const follow = (): void => {
    if (placing.order.length === n) {
      const weight = weigh(placing.cost)
      if (weight < least) [best, least] = [placing.placed, weight]
      return
    }
    if (tried > TRIED_MOST || !canBeBetter()) return
    for (let i = 0; i < n; i += 1) {
      if (isIn[i] || waiting[i]! > 0) continue
      isIn[i] = 1
      for (const f of day.followers[i]!) waiting[f]! -= 1
      for (const [a, b] of who[day.hands[i]!]!) {
        if (b < 0 && isLike(a)) continue
        tried += 1
        placing.put(i, a, b)
        follow()
        placing.takeBack()
      }
      for (const f of day.followers[i]!) waiting[f]! += 1
      isIn[i] = 0
    }
  }
  follow()
  return best
}
