/** What a site has while another line than the first is used: speed, address, data and its price. */
import type { Uplink } from '../../plan'
import type { SiteModel } from '../../topology'
import { linesInUse } from './siteOutlook'

export interface OnStandby {
  readonly lineId: string
  /** Mbit/s by the first line and by this one; null where nobody recorded it. */
  readonly down: { readonly before: number | null; readonly then: number | null }
  readonly up: { readonly before: number | null; readonly then: number | null }
  /**
   * What fits through it, Mbit/s down: the least of the line, its port and what the gateway carries;
   * null where nothing of it is known.
   */
  readonly fits: {
    readonly mbps: number
    /** What is the least of them. */ readonly by: 'line' | 'socket' | 'inspection' | 'gateway'
    /** Who can work with it, at `PERSON_MBPS` each. */ readonly people: number
    /** Who is there, by the places of the plan. */ readonly peopleThere: number
  } | null
  /** Port forwards that nobody outside reaches then. */
  readonly lostForwardIds: readonly string[]
  /** Data of an outage of so many hours, GB, at the full speed of the line and no more. */
  readonly most: {
    readonly hours: number
    readonly gigabytes: number
    readonly beyondCap: number
    /** In the money of the cap; null where there is none. */ readonly price: number | null
  } | null
}

/** Octets that a line carries in so many hours at so many Mbit/s, GB (10^9 octets). */
export const gigabytesIn = (mbps: number, hours: number): number => (mbps / 8) * hours * 3.6

/** What one who works takes in the mean of a busy hour, calls and pages, Mbit/s (common practice). */
export const PERSON_MBPS = 2

function fitting(model: SiteModel, u: Uplink): OnStandby['fits'] {
  const limits = model.gateway ? model.profileOf(model.gateway.id).limits : null
  const bounds = [
    { by: 'line' as const, mbps: u.handOff.downMbps },
    { by: 'socket' as const, mbps: u.portId ? model.profilePortOf(u.portId).speedMbps : null },
    u.isInspected
      ? { by: 'inspection' as const, mbps: limits?.inspectedMbps ?? null }
      : { by: 'gateway' as const, mbps: limits?.plainMbps ?? null },
  ].flatMap(({ by, mbps }) => (mbps === null ? [] : [{ by, mbps }]))
  // Of a line whose speed nobody recorded nothing can be said.
  if (u.handOff.downMbps === null) return null
  const least = bounds.reduce((a, b) => (b.mbps < a.mbps ? b : a))
  return {
    ...least,
    people: Math.floor(least.mbps / PERSON_MBPS),
    peopleThere: Object.values(model.plan.locations).reduce((sum, l) => sum + l.people, 0),
  }
}

/** Behind the provider's translation nobody outside begins anything. */
const takesNothingIn = ({ handOff }: Uplink): boolean =>
  handOff.addressKind === 'carrier-grade' || handOff.addressKind === 'private'

/**
 * For each line that takes over.
 * @param hours how long the first line is dead
 */
export function onStandby(model: SiteModel, hours: number): OnStandby[] {
  const [first, ...others] = linesInUse(model)
  if (!first) return []
  return others.map((u): OnStandby => {
    const { downMbps, upMbps, cap } = u.handOff
    const gigabytes = downMbps === null ? null : gigabytesIn(downMbps + (upMbps ?? 0), hours)
    const beyondCap =
      gigabytes === null || cap === null || cap === 'none'
        ? 0
        : Math.max(0, gigabytes - cap.gigabytes)
    return {
      lineId: u.id,
      down: { before: first.handOff.downMbps, then: downMbps },
      up: { before: first.handOff.upMbps, then: upMbps },
      fits: fitting(model, u),
      lostForwardIds:
        takesNothingIn(u) && !takesNothingIn(first) ? Object.keys(model.plan.forwards) : [],
      most:
        gigabytes === null
          ? null
          : {
              hours,
              gigabytes,
              beyondCap,
              price: cap === null || cap === 'none' ? null : beyondCap * cap.pricePerGb,
            },
    }
  })
}
