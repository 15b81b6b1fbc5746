/** What is proposed for this end where nothing was said yet. */
import { peersOf, type SitePlan, type Tunnel } from '../../plan'
import { reachedFrom, reaching } from '../reach/reach'
import type { IkeEnd } from './compare'

/** Between 1 h and a day; rekeying costs a handful of packets (common practice). */
const LIFETIME_S = 14_400
const CHILD_LIFETIME_S = 3600

/** Networks here that the other site reaches or that reach it; what lies behind it there. */
export function usualIke(plan: SitePlan, t: Tunnel): IkeEnd {
  const [peer] = peersOf(plan, t.id)
  const places = peer
    ? [...reachedFrom(plan, peer.id).map((r) => r.place), ...reaching(plan, peer.id)]
    : []
  const here = places.flatMap((id) => plan.segments[id]?.subnet ?? [])
  return {
    proposal: 'aes256gcm16-prfsha384-ecp384',
    childProposal: 'aes256gcm16-ecp384',
    localId: t.endpointName ?? '',
    remoteId: peer?.endpoint?.host ?? '',
    lifetimeSeconds: LIFETIME_S,
    childLifetimeSeconds: CHILD_LIFETIME_S,
    localSelectors: [...new Set(here)],
    remoteSelectors: (peer?.networks ?? []).filter((n) => !n.includes(':')),
  }
}
