/** Where on a plan a fault tells most: what is cabled to what. */
import { z } from 'zod'
import { uplinksInOrder, type Device, type Port, type SitePlan, type Uplink } from '@mast/core/plan'

/** The port at the other end of a port's cable. */
export function otherEnd(plan: SitePlan, portId: string): Port | undefined {
  const link = Object.values(plan.links).find((l) => l.a === portId || l.b === portId)
  return link && plan.ports[link.a === portId ? link.b : link.a]
}
const profileOf = (plan: SitePlan, d: Device) => plan.profiles[d.profileId]!
const feedOf = (plan: SitePlan, d: Device): Port | undefined =>
  profileOf(plan, d)
    .ports.map((p) => otherEnd(plan, `${d.id}.${p.name}`))
    .find((p) => p)

export const portName = (plan: SitePlan, p: Port): string =>
  `${plan.devices[p.deviceId]!.name} port ${p.name}`
/** The first that goes into a socket: what fails there is felt. */
export const firstLine = (plan: SitePlan): Uplink | undefined =>
  uplinksInOrder(plan).find((u) => u.portId !== null)
/** Which line a fault is of; what an earlier version put in is of the first. */
export const lineSchema = z.string().max(64).optional()
export const ofLine = ({ lineId }: { lineId?: string | undefined }): string | undefined => lineId

/** Wired hosts in a segment, each with the socket of a managed switch that it is in. */
export const wiredHosts = (plan: SitePlan): { host: Device; at: Port }[] =>
  Object.values(plan.devices).flatMap((host) => {
    if (profileOf(plan, host).kind !== 'host' || host.wirelessNetworkId) return []
    const at = feedOf(plan, host)
    const isManaged = at && profileOf(plan, plan.devices[at.deviceId]!).vlan === 'managed'
    return isManaged && host.addressing.segmentId ? [{ host, at }] : []
  })

export function firstAccessPoint(
  plan: SitePlan,
): { point: Device; feed: Port | undefined } | undefined {
  const point = Object.values(plan.devices).find((d) => profileOf(plan, d).kind === 'access-point')
  return point && { point, feed: feedOf(plan, point) }
}

/** Access points that hang on a plan of the place. */
export const pointsOnPlans = (plan: SitePlan): Device[] =>
  Object.values(plan.devices).filter(
    (d) => d.place !== null && profileOf(plan, d).kind === 'access-point',
  )

/** How the radio of a band is set, where it has a channel. */
export function radioSet(
  d: Device,
  band: '2.4' | '5' | '6',
): { readonly channel: number } | undefined {
  const set = d.radios.find((r) => r.isOn && r.band === band)
  return set && set.channel !== null ? { channel: set.channel } : undefined
}
