/**
 * A first policy from what the segments are for; common practice, meant to be changed cell by cell.
 */
import {
  editCall,
  newId,
  PROVIDER_LAN,
  type EditCall,
  type Segment,
  type SegmentPurpose,
  type SitePlan,
} from '../plan'

interface Wish {
  readonly from: SegmentPurpose
  readonly to: SegmentPurpose | 'internet'
  readonly services: 'any' | string[]
  readonly reason: string
}

const wishes: readonly Wish[] = [
  {
    from: 'management',
    to: 'internet',
    services: 'any',
    reason: 'devices fetch time, names and firmware',
  },
  {
    from: 'management',
    to: 'staff',
    services: ['svc-ping'],
    reason: 'to look for a host from the cupboard',
  },
  {
    from: 'management',
    to: 'cameras',
    services: 'any',
    reason: 'cameras are set up from management',
  },
  {
    from: 'management',
    to: 'servers',
    services: 'any',
    reason: 'servers are set up from management',
  },
  { from: 'staff', to: 'internet', services: 'any', reason: 'staff work on the internet' },
  { from: 'staff', to: 'servers', services: 'any', reason: "staff use the site's own servers" },
  {
    from: 'staff',
    to: 'cameras',
    services: ['svc-web', 'svc-video'],
    reason: 'staff look at the cameras',
  },
  {
    from: 'payments',
    to: 'internet',
    services: ['svc-web'],
    reason: 'card terminals reach their acquirer',
  },
  {
    from: 'instruments',
    to: 'servers',
    services: ['svc-web'],
    reason: 'instruments deliver their readings',
  },
  {
    from: 'servers',
    to: 'internet',
    services: ['svc-web', 'svc-dns'],
    reason: 'servers fetch updates',
  },
  { from: 'voice', to: 'internet', services: 'any', reason: 'calls leave by the internet' },
  {
    from: 'guests',
    to: 'internet',
    services: 'any',
    reason: 'guests reach the internet and nothing else',
  },
]

/** Edits that state the usual policy for every pair that nothing is stated of yet. */
export function proposePolicy(plan: SitePlan): EditCall[] {
  const of = (purpose: SegmentPurpose): Segment[] =>
    Object.values(plan.segments).filter((s) => s.purpose === purpose)
  const stated = new Set(Object.values(plan.intents).map((i) => `${i.from}>${i.to}`))
  return wishes.flatMap((w) =>
    of(w.from).flatMap((from) =>
      (w.to === 'internet' ? ['internet'] : of(w.to).map((s) => s.id))
        .filter((to) => to !== from.id && !stated.has(`${from.id}>${to}`))
        .map((to): EditCall => {
          const services = w.services === 'any' ? 'any' : w.services.filter((s) => plan.services[s])
          return editCall('stateIntent', {
            id: newId(plan, `usual ${from.id} ${to}`),
            from: from.id,
            to,
            services,
            action: 'allow',
            reason: w.reason,
          })
        }),
    ),
  )
}

/** What a pair that nothing is stated of is offered: allowed where that is usual, else denied. */
export const usualVerdict = (plan: SitePlan, from: string, to: string): 'allow' | 'deny' => {
  const purposeOf = (place: string): string | undefined =>
    place === 'internet'
      ? place
      : plan.segments[plan.devices[place]?.addressing.segmentId ?? place]?.purpose
  const [a, b] = [purposeOf(from), purposeOf(to)]
  // The page of the modem is looked at from where devices are managed.
  if (to === PROVIDER_LAN) return a === 'management' ? 'allow' : 'deny'
  return wishes.some((w) => w.from === a && w.to === b) ? 'allow' : 'deny'
}
