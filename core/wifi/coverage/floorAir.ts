/** A plan of the place as it is on the air: walls and radios out of the plan of the site. */
import type { Band, Width } from '../../radio/bands'
import { lawOf } from '../../radio/lawful'
import { lossOfMaterial } from '../../radio/materials'
import {
  settingsOf,
  type Device,
  type Floor,
  type PlanWall,
  type Radio,
  type RadioSetting,
} from '../../plan'
import type { SiteModel } from '../../topology'
import { isRepeater } from '../extenders/isRepeater'
import { levelAt } from './levelAt'
import type { Grid, Point, Sender, Wall } from './place'
import type { Spoken } from '../../radio/rates'

/** Heads, and what they have in hand, are so high above the floor, m (common practice). */
export const HEAD_M = 1.2

/** The pieces of a wall, each with what it takes in a band: openings are pieces of their own. */
export function piecesOf({ points, material, openings }: PlanWall, band: Band): Wall[] {
  const pieces: Wall[] = []
  const loss = lossOfMaterial(material, band)
  let along = 0
  for (const [n, a] of points.slice(0, -1).entries()) {
    const b = points[n + 1]!
    const length = Math.hypot(b.x - a.x, b.y - a.y)
    if (length === 0) continue
    const at = (m: number): Point => ({
      x: a.x + ((b.x - a.x) * m) / length,
      y: a.y + ((b.y - a.y) * m) / length,
    })
    const here = openings
      .map((o) => ({
        from: Math.max(0, o.fromM - along),
        to: Math.min(length, o.toM - along),
        lossDb: o.material === null ? 0 : lossOfMaterial(o.material, band),
      }))
      .filter((o) => o.to > o.from)
      .sort((o, p) => o.from - p.from)
    let done = 0
    for (const o of here) {
      if (o.from > done) pieces.push({ a: at(done), b: at(o.from), lossDb: loss })
      // Of openings that lie on each other the first counts.
      const from = Math.max(done, o.from)
      if (o.to > from) pieces.push({ a: at(from), b: at(o.to), lossDb: o.lossDb })
      done = Math.max(done, o.to)
    }
    if (done < length) pieces.push({ a: at(done), b, lossDb: loss })
    along += length
  }
  return pieces
}

export const wallsOf = (model: SiteModel, floorId: string, band: Band): Wall[] =>
  Object.values(model.plan.walls)
    .filter((w) => w.floorId === floorId)
    .flatMap((w) => piecesOf(w, band))

/** A radio of a device that hangs on a plan of the place. */
export interface FloorRadio {
  readonly deviceId: string
  /** Which of its radios, from 0. */ readonly radio: number
  readonly sender: Sender
  /** With all the power that it has and may send, whatever it is set to, dBm (EIRP). */
  readonly mostEirpDbm: number
  /** null where nobody chose one yet: it disturbs nobody, as far as is known. */
  readonly channel: number | null
  readonly widthMhz: Width
  readonly spoken: Spoken
}

const senderOf = (
  place: NonNullable<Device['place']>,
  radio: Radio,
  setting: RadioSetting,
  country: string,
  isOutdoors: boolean,
  mhz: number,
): Sender => {
  const wanted = (setting.powerDbm ?? radio.powerDbm) + radio.gainDbi
  const law =
    setting.channel === null
      ? null
      : lawOf(
          country,
          { band: setting.band, primary: setting.channel, widthMhz: setting.widthMhz },
          isOutdoors,
        )
  return {
    at: { x: place.x, y: place.y },
    aboveM: place.heightM - HEAD_M,
    mhz,
    // Set to the country, a device sends no more than it may.
    eirpDbm: law?.ok ? Math.min(wanted, law.limitDbm) : wanted,
    beam: radio.beam && { degrees: place.degrees, ...radio.beam },
  }
}

/** What is taken for a band where no channel is chosen, MHz. */
const usualMhz: Readonly<Record<Band, number>> = { '2.4': 2437, '5': 5500, '6': 6425 }

/** Weaker than that an extender holds no link to what it repeats, dBm (the lowest step of 802.11). */
const LINK_DBM = -82

/** Radios of a band on a plan of the place that are on, and have something to send. */
export function radiosOn(model: SiteModel, floor: Floor, band: Band): FloorRadio[] {
  const all = radiosHung(model, floor, band)
  const repeats = (r: FloorRadio): boolean => isRepeater(model, model.device(r.deviceId))
  if (!all.some(repeats)) return all
  const walls = wallsOf(model, floor.id, band)
  // What an extender does not hear it cannot pass on.
  return all.filter((r) => {
    if (!repeats(r)) return true
    const of = model.device(r.deviceId).listensToId
    const heard = all.find((o) => o.deviceId === of && !repeats(o))
    if (!heard) return false
    const above = heard.sender.aboveM - r.sender.aboveM
    const law = { coefficient: floor.coefficient }
    return levelAt(heard.sender, r.sender.at, walls, law, above).dbm >= LINK_DBM
  })
}
function radiosHung(model: SiteModel, floor: Floor, band: Band): FloorRadio[] {
  return model.devices.flatMap((device): FloorRadio[] => {
    const { place } = device
    const profile = model.profileOf(device.id)
    if (
      place?.floorId !== floor.id ||
      !['access-point', 'gateway', 'range-extender'].includes(profile.kind)
    )
      return []
    return settingsOf(device, profile).flatMap((setting, n): FloorRadio[] => {
      const radio = profile.air[n]!
      if (!setting.isOn || setting.band !== band) return []
      const senderSo = (s: RadioSetting): Sender =>
        senderOf(place, radio, s, model.plan.site.country, floor.isOutdoors, usualMhz[band])
      return [
        {
          deviceId: device.id,
          radio: n,
          sender: senderSo(setting),
          mostEirpDbm: senderSo({ ...setting, powerDbm: null }).eirpDbm,
          channel: setting.channel,
          widthMhz: setting.widthMhz,
          spoken: {
            generation: radio.generation,
            widthMhz: setting.widthMhz,
            streams: radio.streams,
          },
        },
      ]
    })
  })
}

/** @param stepM m */
export const gridOf = (
  { widthM, depthM }: Pick<Floor, 'widthM' | 'depthM'>,
  stepM: number,
): Grid => ({
  x0: stepM / 2,
  y0: stepM / 2,
  stepM,
  columns: Math.max(1, Math.round(widthM / stepM)),
  rows: Math.max(1, Math.round(depthM / stepM)),
})

/** Whether a point lies within corners (Jordan: a ray to the right crosses its sides an odd number of times). */
export function isWithin({ x, y }: Point, corners: readonly Point[]): boolean {
  let isIn = false
  for (const [n, a] of corners.entries()) {
    const b = corners[(n + 1) % corners.length]!
    if (a.y > y !== b.y > y && x < a.x + ((y - a.y) * (b.x - a.x)) / (b.y - a.y)) isIn = !isIn
  }
  return isIn
}
