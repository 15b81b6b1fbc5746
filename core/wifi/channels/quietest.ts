/** The hour of the day with the fewest clients, by what access points reported. */
export interface ClientHour {
  /** 0 to 23, by the clocks of the site. */
  readonly hour: number
  /** In the mean. */
  readonly clients: number
  readonly samples: number
}

/** An hour that was looked at less often says nothing: two samples a minute, for half of one. */
const LEAST_SAMPLES = 60
/** So many hours of the day have to be known, or the quietest may be one of the others. */
const LEAST_HOURS = 20

/**
 * Its hour; null where too little of a day was seen. Of several that are as quiet the one in the
 * middle of the longest row is taken: whoever comes early or stays late is furthest from it.
 */
export function quietestHour(hours: readonly ClientHour[]): number | null {
  const known = hours.filter((h) => h.samples >= LEAST_SAMPLES)
  if (known.length < LEAST_HOURS) return null
  const least = Math.min(...known.map((h) => h.clients))
  // Half a client more or less is no difference.
  const quiet = new Set(known.filter((h) => h.clients <= least + 0.5).map((h) => h.hour))
  let best = { start: 0, length: 0 }
  for (const start of [...quiet].sort((a, b) => a - b)) {
    if (quiet.has((start + 23) % 24) && quiet.size < 24) continue
    let length = 0
    while (length < 24 && quiet.has((start + length) % 24)) length++
    if (length > best.length) best = { start, length }
  }
  return (best.start + Math.floor((best.length - 1) / 2)) % 24
}
