/** What a site has while another line than the first is used: speed, address, data and its price. */
import type { Uplink } from '../../plan'
import type { SiteModel } from '../../topology'
import { linesInUse } from './siteOutlook'

export interface OnStandby {
  readonly lineId: string
  /** Mbit/s by the first line and by this one; null where nobody recorded it. */
  readonly down: { readonly before: number | null; readonly then: number | null }
  readonly up: { readonly before: number | null; readonly then: number | null }
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
