/** Steps one after the other into the day, each as early as everything before it lets it. */
import { CLEARS_PLACE, CLEARS_SITE, type OpenSteps } from './day'

/** By number of the step, all in s. */
export interface Placed {
  /** In this order they were put in. */
  readonly order: readonly number[]
  readonly start: Float64Array
  /** On the way to it. */
  readonly travel: Float64Array
  readonly person: Int32Array
  /** The second one; -1 where one is enough. */
  readonly helper: Int32Array
}

/** What is better of two days: shorter, then with the site out for less long, then walked less. */
export interface Cost {
  readonly totalSeconds: number
  readonly outageSeconds: number
  readonly travelSeconds: number
}
const WALK_WEIGHT = 1e-3
export const weigh = (c: Cost): number =>
  c.totalSeconds + c.outageSeconds + c.travelSeconds * WALK_WEIGHT

export class Placing {
  readonly order: number[] = []
  readonly start: Float64Array
  readonly travel: Float64Array
  readonly person: Int32Array
  readonly helper: Int32Array
  readonly ready: Float64Array
  readonly free: Float64Array
  readonly standing: Int32Array
  /** Until when nobody else may work at a place, and until when somebody works there. */
  private readonly clearAt: Float64Array
  private readonly busyAt: Float64Array
  private clearSite: number
  private busySite: number
  totalSeconds: number
  travelSeconds = 0
  private outFrom = Infinity
  private outTo = -Infinity
  private readonly undo: (() => void)[] = []

  constructor(
    readonly day: OpenSteps,
    private readonly canTakeBack = false,
  ) {
    const n = day.steps.length
    this.start = new Float64Array(n)
    this.travel = new Float64Array(n)
    this.person = new Int32Array(n).fill(-1)
    this.helper = new Int32Array(n).fill(-1)
    this.ready = Float64Array.from(day.readyAt)
    this.free = new Float64Array(day.people).fill(day.from)
    this.standing = Int32Array.from(day.standing)
    this.clearAt = new Float64Array(day.places.length)
    this.busyAt = new Float64Array(day.places.length)
    this.clearSite = day.from
    this.busySite = day.from
    this.totalSeconds = day.from
  }

  get cost(): Cost {
    return {
      totalSeconds: this.totalSeconds,
      outageSeconds: this.outTo > this.outFrom ? this.outTo - this.outFrom : 0,
      travelSeconds: this.travelSeconds,
    }
  }

  /** Not before this, whoever does it, s. */
  private earliest(n: number): number {
    const { place, clears } = this.day
    let t = Math.max(this.ready[n]!, this.clearSite)
    const p = place[n]!
    if (p >= 0) {
      t = Math.max(t, this.clearAt[p]!)
      if (clears[n] === CLEARS_PLACE) t = Math.max(t, this.busyAt[p]!)
    }
    return clears[n] === CLEARS_SITE ? Math.max(t, this.busySite) : t
  }
  private wayOf(person: number, n: number): number {
    return this.day.way(this.standing[person]!, this.day.place[n]!)
  }
  /** When it starts if these do it, s. */
  startWith(n: number, person: number, helper: number): number {
    const arrives = this.free[person]! + this.wayOf(person, n)
    const both =
      helper < 0 ? arrives : Math.max(arrives, this.free[helper]! + this.wayOf(helper, n))
    return Math.max(this.earliest(n), both)
  }
  /** Who starts it first; of several the one who walks least, then who was free last. */
  best(n: number): { person: number; helper: number; start: number; travel: number } {
    const { people, hands } = this.day
    let found = { person: -1, helper: -1, start: Infinity, travel: Infinity }
    let freest = -Infinity
    const isTwo = hands[n] === 2
    for (let a = 0; a < people; a += 1)
      for (let b = isTwo ? a + 1 : -1; b < (isTwo ? people : 0); b += 1) {
        const start = this.startWith(n, a, b)
        const travel = this.wayOf(a, n) + (b < 0 ? 0 : this.wayOf(b, n))
        const free = this.free[a]!
        if (
          start < found.start ||
          (start === found.start &&
            (travel < found.travel || (travel === found.travel && free > freest)))
        ) {
          found = { person: a, helper: b, start, travel }
          freest = free
        }
      }
    return found
  }

  put(n: number, person: number, helper: number): void {
    const { day } = this
    const start = this.startWith(n, person, helper)
    const handsFree = start + day.work[n]!
    const end = handsFree + day.wait[n]!
    const p = day.place[n]!
    if (this.canTakeBack) this.remember(n, person, helper, p)
    const travel = this.wayOf(person, n) + (helper < 0 ? 0 : this.wayOf(helper, n))
    this.order.push(n)
    this.start[n] = start
    this.travel[n] = travel
    this.person[n] = person
    this.helper[n] = helper
    for (const who of helper < 0 ? [person] : [person, helper]) {
      this.free[who] = handsFree
      if (p >= 0) this.standing[who] = p
    }
    this.busySite = Math.max(this.busySite, handsFree)
    if (day.clears[n] === CLEARS_SITE) this.clearSite = Math.max(this.clearSite, handsFree)
    if (p >= 0) {
      this.busyAt[p] = Math.max(this.busyAt[p]!, handsFree)
      if (day.clears[n] === CLEARS_PLACE) this.clearAt[p] = Math.max(this.clearAt[p]!, handsFree)
    }
    if (day.isOutage[n]) {
      this.outFrom = Math.min(this.outFrom, start)
      this.outTo = Math.max(this.outTo, end)
    }
    this.totalSeconds = Math.max(this.totalSeconds, end)
    this.travelSeconds += travel
    for (const f of day.followers[n]!) this.ready[f] = Math.max(this.ready[f]!, end)
  }

  private remember(n: number, person: number, helper: number, p: number): void {
    const { totalSeconds, travelSeconds, outFrom, outTo, clearSite, busySite } = this
    const who = (helper < 0 ? [person] : [person, helper]).map(
      (x) => [x, this.free[x]!, this.standing[x]!] as const,
    )
    const [clear, busy] = p < 0 ? [0, 0] : [this.clearAt[p]!, this.busyAt[p]!]
    const ready = this.day.followers[n]!.map((f) => [f, this.ready[f]!] as const)
    this.undo.push(() => {
      this.order.pop()
      Object.assign(this, { totalSeconds, travelSeconds, outFrom, outTo, clearSite, busySite })
      for (const [x, free, standing] of who) {
        this.free[x] = free
        this.standing[x] = standing
      }
      if (p >= 0) {
        this.clearAt[p] = clear
        this.busyAt[p] = busy
      }
      for (const [f, at] of ready) this.ready[f] = at
    })
  }
  /** The last one out again. */
  takeBack(): void {
    this.undo.pop()!()
  }

  get placed(): Placed {
    const { order, start, travel, person, helper } = this
    return {
      order: [...order],
      start: start.slice(),
      travel: travel.slice(),
      person: person.slice(),
      helper: helper.slice(),
    }
  }
}

/** In the given order, each by whoever starts it first, or by those who did it in `like`. */
export function inOrderOf(
  day: OpenSteps,
  order: readonly number[],
  like?: Pick<Placed, 'person' | 'helper'>,
): Placing {
  const placing = new Placing(day)
  for (const n of order) {
    const who = like ? { person: like.person[n]!, helper: like.helper[n]! } : placing.best(n)
    placing.put(n, who.person, who.helper)
  }
  return placing
}
