/** How fast a tunnel is, and how long something takes through it. */
import { overheadOf } from './size'

/** Octets of a full frame on the line beside the IP packet, that nobody sells: none. */
const MBIT = 1_000_000

export interface Limit {
  readonly what: string
  readonly mbps: number
}
export interface TunnelSpeed {
  /** What is left for data, Mbit/s; null where nothing of it is known. */
  readonly mbps: number | null
  /** What makes it so. */
  readonly by: Limit | null
  readonly known: readonly Limit[]
}

/**
 * The least of what lies between; of lines, the share of each packet that is not header.
 * @param lines what lines carry, @param devices what devices encrypt, Mbit/s of data
 */
export function speedOf(
  lines: readonly Limit[],
  devices: readonly Limit[],
  mtu: number,
  outer: 'ipv4' | 'ipv6',
): TunnelSpeed {
  const share = mtu / (mtu + overheadOf(outer))
  const known = [...lines.map((l) => ({ ...l, mbps: l.mbps * share })), ...devices]
  const by = known.reduce<Limit | null>(
    (least, l) => (!least || l.mbps < least.mbps ? l : least),
    null,
  )
  return { mbps: by?.mbps ?? null, by, known }
}

export interface Transfer {
  readonly seconds: number
  /** What one connection carries, Mbit/s, and whether its window is what limits it. */
  readonly mbps: number
  readonly isByWindow: boolean
}

/**
 * How long so many GB (10^9 octets) take over one TCP connection: no faster than the tunnel, and no
 * faster than a window per round trip (RFC 7323 1.1).
 * @param windowOctets 64 KiB where both ends do not scale it
 */
export function transferOf(
  gigabytes: number,
  mbps: number,
  roundTripMs: number,
  windowOctets: number,
): Transfer {
  const byWindow = roundTripMs > 0 ? (windowOctets * 8) / (roundTripMs / 1000) / MBIT : Infinity
  const rate = Math.min(mbps, byWindow)
  return {
    seconds: rate > 0 ? (gigabytes * 8e9) / (rate * MBIT) : Infinity,
    mbps: rate,
    isByWindow: byWindow < mbps,
  }
}
