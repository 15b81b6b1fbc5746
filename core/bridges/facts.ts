/** A bridge with all that is known of it, in numbers; or what has to be said first. */
import { own, type Bridge, type BridgeEnd, type BridgeUnit, type Device } from '../plan'
import type { SiteModel } from '../topology'
import { antennaOf, type Antenna } from './antenna/pattern'
import { between, type Between, type Place } from './geodesy/between'
import { groundAt } from './terrain/ground'

export type EndName = 'a' | 'b'

export interface EndFacts {
  readonly name: EndName
  readonly device: Device
  readonly set: BridgeEnd
  readonly unit: BridgeUnit
  readonly antenna: Antenna
  readonly at: Place
  readonly groundM: number
  readonly heightM: number
  /** Of the antenna above the sea, m. */
  readonly topM: number
  /** The middle of its channel; null while it has none. */
  readonly mhz: number | null
}
export interface BridgeFacts {
  readonly bridge: Bridge
  readonly a: EndFacts
  readonly b: EndFacts
  readonly way: Between
  /** The frequency that is reckoned with: that of end A, else of B, else the lowest of the unit. */
  readonly mhz: number
  readonly isChannelSet: boolean
}
export interface Missing {
  /** In words, each with what it is missing of. */
  readonly missing: readonly string[]
}
export const isKnown = (facts: BridgeFacts | Missing): facts is BridgeFacts => 'way' in facts

/** The device at an end of its link. */
export function deviceAt(model: SiteModel, bridge: Bridge, end: EndName): Device {
  const link = model.plan.links[bridge.linkId]!
  return model.device(model.port(link[end]).deviceId)
}

/** Nearer than that two antennas are in one place, m. */
const SAME_PLACE_M = 1
/** Farther than that no wave goes straight, m. */
export const FARTHEST_M = 300_000

export function bridgeFacts(model: SiteModel, bridge: Bridge): BridgeFacts | Missing {
  const missing: string[] = []
  const read = (name: EndName) => {
    const device = deviceAt(model, bridge, name)
    const set = bridge[name]
    const { bridge: unit, name: profile } = model.profileOf(device.id)
    const place = own(model.plan.locations, device.locationId ?? '')
    const at =
      set.at ??
      (place?.latitude != null && place.longitude != null
        ? { latitude: place.latitude, longitude: place.longitude }
        : null)
    const heightM = set.heightM ?? place?.heightM ?? null
    if (!unit) missing.push(`what the radio '${profile}' can do (its channels, powers and antenna)`)
    if (!at) missing.push(`where ${device.name} is (its coordinates)`)
    if (heightM === null) missing.push(`how high the antenna of ${device.name} hangs`)
    else if (heightM < 0) missing.push(`a height of ${device.name} above the ground, not below it`)
    const channel = unit?.channels.find((c) => c.number === set.channel)
    if (unit && set.channel !== null && !channel)
      missing.push(
        `a channel that '${profile}' has, since ${set.channel} of ${device.name} is none`,
      )
    return { name, device, set, unit, at, heightM, mhz: channel?.mhz ?? null }
  }
  const ends = [read('a'), read('b')] as const
  const [a, b] = ends
  const way = a.at && b.at ? between(a.at, b.at) : null
  if (way && way.metres < SAME_PLACE_M) missing.push('two places: both ends are in one')
  if (way && way.metres > FARTHEST_M)
    missing.push(
      `coordinates that are nearer: ${Math.round(way.metres / 1000)} km lie between the ends, and no ` +
        `bridge goes farther than ${FARTHEST_M / 1000} km`,
    )
  if (missing.length > 0 || !way) return { missing }
  const whole = (e: (typeof ends)[number], fromAM: number): EndFacts => {
    const groundM = e.set.groundM ?? groundAt(bridge.ground, fromAM) ?? 0
    return {
      name: e.name,
      device: e.device,
      set: e.set,
      unit: e.unit!,
      antenna: antennaOf(e.unit!, e.set),
      at: e.at!,
      groundM,
      heightM: e.heightM!,
      topM: groundM + e.heightM!,
      mhz: e.mhz,
    }
  }
  return {
    bridge,
    a: whole(a, 0),
    b: whole(b, way.metres),
    way,
    mhz: a.mhz ?? b.mhz ?? Math.min(...a.unit!.channels.map((c) => c.mhz)),
    isChannelSet: a.mhz !== null || b.mhz !== null,
  }
}
