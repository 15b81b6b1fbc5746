/**
 * Range extenders on the air: each hears the access point that it was told to repeat, and sends its
 * networks on as that one does. What comes in by it goes through the air twice.
 */
import type { Device, SitePlan } from '@mast/core/plan'
import type { AccessPointConfiguration } from '@mast/protocol'
import { spotOf, type Air } from '../air/air'
import { sharingWith, type OnTheAir } from '../air/radios'
import { passedOn, throughputMbps } from '../air/throughput'
import type { AccessPoint } from '../devices/accessPoint'

/** Weaker than that it holds no link, dBm. */
const HOLDS_DBM = -82
/** Wider than that no client is reckoned with, MHz. */
const WIDEST_MHZ = 80

export interface Extender {
  readonly device: Device
  readonly point: AccessPoint
  readonly configuration: AccessPointConfiguration
}

/** Those that have power, and an access point that sends. */
export const extendersOf = (
  plan: SitePlan,
  isOn: (id: string) => boolean,
  pointOf: (id: string) => AccessPoint | undefined,
): Extender[] =>
  Object.values(plan.devices).flatMap((device): Extender[] => {
    const profile = plan.profiles[device.profileId]!
    if (profile.kind !== 'range-extender' || !device.listensToId || !isOn(device.id)) return []
    const point = pointOf(device.listensToId)
    const told = point?.onAir
    if (!point || !told) return []
    const radios = profile.air.map((radio, n) => {
      const set = device.radios[n]
      const band = set?.band ?? radio.bands[0]!
      // On the channel of what it repeats, whatever it was set to.
      const heard = told.radios.find((r) => r.isOn && r.band === band)
      return {
        isOn: (set?.isOn ?? true) && heard !== undefined,
        band,
        channel: heard?.channel ?? null,
        widthMhz: heard?.widthMhz ?? 20,
        powerDbm: set?.powerDbm ?? null,
      }
    })
    return [{ device, point, configuration: { ...told, radios } }]
  })

/** The best that it hears of its access point, with what it would get by that; null where no link holds. */
export function linkOf(
  { device, point }: Extender,
  air: Air,
  radios: readonly OnTheAir[],
): { readonly dbm: number; readonly mbps: number } | null {
  const spot = spotOf(device)
  const own = radios.filter((r) => r.deviceId === device.id)
  let best: { dbm: number; mbps: number } | null = null
  for (const r of radios) {
    const mine = own.find((o) => o.sending.band === r.sending.band)
    if (r.deviceId !== point.id || !spot || !mine) continue
    const dbm = air.level(r.sending, spot)
    if (dbm === null || dbm < HOLDS_DBM || (best && best.dbm >= dbm)) continue
    const streams = Math.min(r.streams, mine.streams)
    best = {
      dbm,
      mbps: throughputMbps(
        dbm,
        Math.min(r.widthMhz, WIDEST_MHZ),
        streams,
        sharingWith(air, radios, r),
      ),
    }
  }
  return best
}

/** What is left at the far side of it, Mbit/s. */
export const throughExtender = (
  extender: Extender,
  air: Air,
  radios: readonly OnTheAir[],
  toClientMbps: number,
): number =>
  passedOn(
    linkOf(extender, air, radios)?.mbps ?? 0,
    toClientMbps,
    radios.filter((r) => r.deviceId === extender.device.id).length,
  )
