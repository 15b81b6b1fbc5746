/**
 * How far radios can be turned down: each one dB at a time, the loudest first, for as long as every
 * point that has to be served stays served.
 */
export interface Turning {
  /** By radio and point, dBm at its most. */
  readonly levels: readonly Float32Array[]
  /** What a point needs of one of them, dBm; -Infinity where nobody has to be served. */
  readonly needs: Float32Array
  /** What each may send at the most and at the least, dBm. */
  readonly mostDbm: readonly number[]
  readonly leastDbm: readonly number[]
}
export interface Turned {
  readonly powersDbm: readonly number[]
  /** The point that keeps each from being turned down further; null where nothing but its least does. */
  readonly heldBy: readonly (number | null)[]
}

/**
 * Nothing of what it gives can be turned down alone by another dB. Points that nobody serves at
 * their most hold nobody.
 */
export function turnedDown({ levels, needs, mostDbm, leastDbm }: Turning): Turned {
  const powers = [...mostDbm]
  const held: (number | null)[] = powers.map(() => null)
  const points = needs.length
  /** How many serve a point as they are set now. */
  const servers = new Uint16Array(points)
  for (const level of levels)
    for (let p = 0; p < points; p++) if (level[p]! >= needs[p]!) servers[p]!++
  const open = new Set(powers.keys())
  while (open.size > 0) {
    let loudest = -1
    for (const r of open) if (loudest < 0 || powers[r]! > powers[loudest]!) loudest = r
    const level = levels[loudest]!
    const down = mostDbm[loudest]! - powers[loudest]!
    const holds = (p: number): boolean =>
      needs[p] !== -Infinity &&
      servers[p] === 1 &&
      level[p]! - down >= needs[p]! &&
      level[p]! - down - 1 < needs[p]!
    let holder: number | null = null
    for (let p = 0; p < points && holder === null; p++) if (holds(p)) holder = p
    if (holder !== null || powers[loudest]! - 1 < leastDbm[loudest]!) {
      held[loudest] = holder
      open.delete(loudest)
      continue
    }
    for (let p = 0; p < points; p++)
      if (level[p]! - down >= needs[p]! && level[p]! - down - 1 < needs[p]!) servers[p]!--
    powers[loudest]!--
  }
  return { powersDbm: powers, heldBy: held }
}
