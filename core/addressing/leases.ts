/**
 * How many addresses leases hold, over a day. A client that renews at half of its lease (RFC 2131
 * 4.4.5: T1 = 0.5, T2 = 0.875 of the lease) and
 * leaves without releasing holds its address for the renewals of its stay and one whole lease after
 * the last of them. With arrivals at
 * random the number held is Poisson distributed whatever the distribution of the holding time
 * (Little 1961 for the mean; the M/G/infinity
 * queue for the distribution, also where the rate changes over the day).
 */

export const RENEW_SHARE = 0.5
export const REBIND_SHARE = 0.875

/** When a client renews and rebinds, s (RFC 2131 4.4.5, options 58 and 59 of RFC 2132). */
export const renewSeconds = (leaseSeconds: number): number => Math.floor(leaseSeconds * RENEW_SHARE)
export const rebindSeconds = (leaseSeconds: number): number =>
  Math.floor(leaseSeconds * REBIND_SHARE)

/** How long an address is held by one client that stays for a time, s. */
export function heldSeconds(staySeconds: number, leaseSeconds: number): number {
  const renew = leaseSeconds * RENEW_SHARE
  return Math.floor(staySeconds / renew) * renew + leaseSeconds
}

export interface Churn {
  /** Arrivals an hour in the busy hours. */
  readonly arrivalsPerHour: number
  readonly heldMinutes: number
  /** Busy hours; the same hour twice, or 0 and 24, is all day. */
  readonly fromHour: number
  readonly toHour: number
}

const DAY_HOURS = 24
const isAllDay = (c: Churn): boolean =>
  c.toHour - c.fromHour >= DAY_HOURS || c.toHour === c.fromHour
/** Hours of a day in which clients arrive; the span may go over midnight. */
export const busyHours = (c: Churn): number =>
  isAllDay(c) ? DAY_HOURS : (c.toHour - c.fromHour + DAY_HOURS) % DAY_HOURS

/** Expected arrivals between two times of an endless row of equal days, h. */
function arrivalsBetween(c: Churn, from: number, to: number): number {
  if (isAllDay(c)) return (to - from) * c.arrivalsPerHour
  const until = (t: number): number => {
    const days = Math.floor(t / DAY_HOURS)
    const hour = t - days * DAY_HOURS
    const open = busyHours(c)
    const since = (hour - c.fromHour + DAY_HOURS) % DAY_HOURS
    // Busy hours that have passed since the last midnight; a span over midnight has a part before
    // the opening too.
    const overMidnight = c.toHour < c.fromHour ? c.toHour : 0
    const today =
      c.toHour < c.fromHour
        ? Math.min(hour, overMidnight) + Math.max(0, hour - c.fromHour)
        : since < DAY_HOURS && hour >= c.fromHour
          ? Math.min(since, open)
          : 0
    return days * open + today
  }
  return (until(to) - until(from)) * c.arrivalsPerHour
}

/** Mean number of addresses held at an hour of the day (0 to 24) once the days have settled. */
export const occupancyAt = (c: Churn, leaseSeconds: number, hour: number): number => {
  const held = heldSeconds(c.heldMinutes * 60, leaseSeconds) / 3600
  return arrivalsBetween(c, hour - held, hour)
}

export interface DayPoint {
  readonly hour: number
  readonly mean: number
  /** 1 in 1,000 days it is more at this hour. */ readonly high: number
}

/** Occupancy over a day, every quarter of an hour. */
export const occupancyOverDay = (c: Churn, leaseSeconds: number): DayPoint[] =>
  Array.from({ length: DAY_HOURS * 4 + 1 }, (_, i) => {
    const mean = occupancyAt(c, leaseSeconds, i / 4)
    return { hour: i / 4, mean, high: poissonQuantile(mean, 0.999) }
  })

/**
 * The highest mean of a day. It lies at the end of the busy hours or where they have gone on for as
 * long as an address is held.
 */
export function peakOccupancy(c: Churn, leaseSeconds: number): number {
  const held = heldSeconds(c.heldMinutes * 60, leaseSeconds) / 3600
  const hours = isAllDay(c)
    ? [0]
    : [
        c.toHour % DAY_HOURS || DAY_HOURS,
        (c.fromHour + held) % DAY_HOURS,
        c.fromHour,
        (c.toHour + held) % DAY_HOURS,
      ]
  return Math.max(...hours.map((h) => occupancyAt(c, leaseSeconds, h)))
}

/** The pool that is too small on one day of a thousand at its busiest hour. */
export const poolFor = (c: Churn, leaseSeconds: number): number =>
  poissonQuantile(peakOccupancy(c, leaseSeconds), 0.999)

/** The hour at which a pool is full on an ordinary day; null where it is not. */
export function exhaustedAt(c: Churn, leaseSeconds: number, poolSize: number): number | null {
  const from = isAllDay(c) ? 0 : c.fromHour
  for (let minute = 0; minute <= DAY_HOURS * 60; minute += 5) {
    const hour = (from + minute / 60) % DAY_HOURS
    if (occupancyAt(c, leaseSeconds, hour) > poolSize) return hour
  }
  return null
}

/** Leases that people set, s: half an hour to a week. */
export const usualLeases = [
  1800, 3600, 7200, 14_400, 28_800, 43_200, 86_400, 172_800, 604_800,
] as const

/**
 * The longest usual lease with which the pool lasts; undefined where even the shortest does not
 * help.
 */
export const leaseThatFits = (c: Churn, poolSize: number): number | undefined =>
  [...usualLeases].reverse().find((lease) => poolFor(c, lease) <= poolSize)

/** Mean number of addresses held under a steady rate: Little's law, L = lambda W. */
export const littleMean = (arrivalsPerHour: number, heldHours: number): number =>
  arrivalsPerHour * heldHours

/**
 * Chance that an arrival finds all of a number of servers busy (Erlang B, by its recursion), for a
 * load in erlang.
 */
export function erlangB(loadErlang: number, servers: number): number {
  let blocking = 1
  for (let n = 1; n <= servers; n++)
    blocking = (loadErlang * blocking) / (n + loadErlang * blocking)
  return blocking
}

/** The least number whose Poisson distribution function is at least the given share. */
export function poissonQuantile(mean: number, share: number): number {
  if (mean <= 0) return 0
  // Far from zero the normal approximation with a correction for skewness (Cornish and Fisher 1938)
  // is closer than one address.
  if (mean > 500) {
    const z = normalQuantile(share)
    return Math.ceil(mean + z * Math.sqrt(mean) + (z * z - 1) / 6)
  }
  let term = Math.exp(-mean)
  let sum = term
  let n = 0
  while (sum < share && n < 10_000) {
    n++
    term *= mean / n
    sum += term
  }
  return n
}

/**
 * Inverse of the normal distribution function (Abramowitz and Stegun 26.2.23, error below 4.5e-4),
 * for shares from one half up.
 */
export function normalQuantile(share: number): number {
  const t = Math.sqrt(-2 * Math.log(1 - share))
  return (
    t -
    (2.515517 + 0.802853 * t + 0.010328 * t * t) /
      (1 + 1.432788 * t + 0.189269 * t * t + 0.001308 * t * t * t)
  )
}
