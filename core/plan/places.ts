/** The places that intents speak of, and their names. */
import { own } from './inherited'
import {
  ANYWHERE,
  MANAGED,
  PROVIDER_LAN,
  type Device,
  type Intent,
  type Place,
  type SitePlan,
} from './schema'

const words: Readonly<Record<string, string>> = {
  internet: 'the internet',
  [PROVIDER_LAN]: "the provider's own network",
  [MANAGED]: 'the gateway and the pages of devices',
  [ANYWHERE]: 'everywhere',
}

export const placeName = (plan: SitePlan, place: Place): string =>
  own(words, place) ??
  own(plan.segments, place)?.name ??
  own(plan.devices, place)?.name ??
  own(plan.groups, place)?.name ??
  own(plan.tunnels, place)?.name ??
  own(plan.peers, place)?.name ??
  place

/**
 * Whether it is known under which address a device will be found: a rule can speak of it then. A
 * reservation without a hardware address is given to nobody.
 */
export const hasKnownAddress = (d: Device): boolean =>
  d.addressing.address !== null &&
  d.addressing.segmentId !== null &&
  (d.addressing.mode === 'fixed' ||
    (d.addressing.mode === 'reserved' && d.hardwareAddress !== null))

/** Intents in the order in which they are looked at. */
export const intentsInOrder = (plan: SitePlan): Intent[] =>
  Object.values(plan.intents).sort((a, b) => a.rank - b.rank || (a.id < b.id ? -1 : 1))

/**
 * What a place consists of, in pieces that lie in each other or apart: a device in its segment, a
 * segment in the site.
 */
export function piecesOf(plan: SitePlan, place: Place): string[] {
  if (place === ANYWHERE) return Object.keys(plan.segments)
  return own(plan.groups, place)?.memberIds ?? [place]
}

/** Whether all of a place lies in another. */
export function placeCovers(plan: SitePlan, wide: Place, narrow: Place): boolean {
  if (wide === narrow) return true
  if (narrow === 'internet' || narrow === PROVIDER_LAN || narrow === MANAGED)
    return wide === ANYWHERE && narrow === 'internet'
  const all = new Set(piecesOf(plan, wide))
  const pieces = piecesOf(plan, narrow)
  return (
    pieces.length > 0 &&
    pieces.every(
      (p) =>
        all.has(p) ||
        all.has(own(plan.devices, p)?.addressing.segmentId ?? '') ||
        all.has(own(plan.peers, p)?.tunnelId ?? ''),
    )
  )
}
