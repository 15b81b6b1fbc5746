/** Radios of access points as they are on the air now, and what a place hears of them. */
import type { Device, SitePlan } from '@mast/core/plan'
import type { AccessPointConfiguration } from '@mast/protocol'
import type { Air, BandName, Sending, Spot } from './air'
import { spotOf } from './air'
import { mostEirpDbm } from './limits'

export interface OnTheAir {
  readonly deviceId: string
  readonly sending: Sending
  readonly channel: number
  readonly widthMhz: number
  readonly streams: number
}

/** Where one looks that was told no channel; the one that hears least is taken. */
const looked: Readonly<Record<BandName, readonly number[]>> = {
  '2.4': [1, 6, 11],
  '5': [36, 52, 100, 116],
  '6': [5, 37, 69],
}
/** 20 MHz by their middles, in MHz above the first of the band. */
const middle = (band: BandName, channel: number): number =>
  (band === '2.4' ? 2407 : band === '5' ? 5000 : 5950) + 5 * channel
export const overlaps = (a: OnTheAir, b: OnTheAir): boolean =>
  a.sending.band === b.sending.band &&
  Math.abs(middle(a.sending.band, a.channel) - middle(b.sending.band, b.channel)) <
    (a.widthMhz + b.widthMhz) / 2

/** Radios of what has power and a configuration, on plans of the place. */
export function radiosOnAir(
  plan: SitePlan,
  air: Air,
  configured: readonly {
    readonly device: Device
    readonly configuration: AccessPointConfiguration
  }[],
): OnTheAir[] {
  const out: OnTheAir[] = []
  for (const { device, configuration } of configured) {
    const spot = spotOf(device)
    if (!spot) continue
    configuration.radios.forEach((r, n) => {
      const built = plan.profiles[device.profileId]!.air[n]
      if (!r.isOn || !built) return
      const of = (channel: number): OnTheAir => ({
        deviceId: device.id,
        sending: {
          key: `${device.id} ${r.band}`,
          spot,
          band: r.band,
          powerDbm: Math.min(
            r.powerDbm ?? built.powerDbm,
            mostEirpDbm(configuration.country, r.band, channel) - built.gainDbi,
          ),
          gainDbi: built.gainDbi,
          beam: built.beam && {
            degrees: device.place!.degrees,
            width: built.beam.widthDegrees,
            backDb: built.beam.frontToBackDb,
          },
        },
        channel,
        widthMhz: r.widthMhz,
        streams: built.streams,
      })
      if (r.channel !== null) return void out.push(of(r.channel))
      const heard = (channel: number): number => {
        const mine = of(channel)
        return out
          .filter((o) => overlaps(o, mine))
          .reduce((sum, o) => sum + 10 ** ((air.level(o.sending, spot) ?? -200) / 10), 0)
      }
      out.push(of([...looked[r.band]].sort((a, b) => heard(a) - heard(b))[0]!))
    })
  }
  return out
}

/** How many share the air with one, itself among them: it waits for whom it hears. */
const WAITS_DBM = -82
export const sharingWith = (air: Air, all: readonly OnTheAir[], one: OnTheAir): number =>
  1 +
  all.filter(
    (o) =>
      o.deviceId !== one.deviceId &&
      overlaps(o, one) &&
      (air.level(o.sending, one.sending.spot) ?? -200) >= WAITS_DBM,
  ).length

export interface HeardRadio {
  readonly radio: OnTheAir
  readonly dbm: number
}
/** From the loudest. */
export const heardAt = (
  air: Air,
  all: readonly OnTheAir[],
  spot: Spot,
  bands: readonly BandName[],
): HeardRadio[] =>
  all
    .flatMap((radio) => {
      const dbm = bands.includes(radio.sending.band) ? air.level(radio.sending, spot) : null
      return dbm === null ? [] : [{ radio, dbm }]
    })
    .sort((a, b) => b.dbm - a.dbm)
