/** An extender of the plan: whom it repeats, how well it hears it where it stands. */
import type { Band } from '../../radio/bands'
import type { Device, Floor } from '../../plan'
import type { SiteModel } from '../../topology'
import { HEAD_M, radiosOn, wallsOf } from '../coverage/floorAir'
import { levelAt } from '../coverage/levelAt'
import type { Wall } from '../coverage/place'
import type { ExtenderCase } from './extending'
import { USUAL_CLIENT } from '../coverage/floorService'
import { settingsOf } from '../../plan'

/** Bands in which both have a radio that is on. */
const BANDS: readonly Band[] = ['5', '2.4', '6']

export interface Repeating {
  readonly device: Device
  readonly floor: Floor
  readonly pointId: string
  readonly band: Band
  readonly case: ExtenderCase
}

/** What it takes to reckon with it, in the band in which it hears best; null while something lacks. */
export function repeatingOf(
  model: SiteModel,
  device: Device,
  spot: { x: number; y: number } | null = null,
): Repeating | null {
  const { place, listensToId } = device
  const floor = place ? model.plan.floors[place.floorId] : undefined
  const point = listensToId ? model.plan.devices[listensToId] : undefined
  if (!place || !floor || point?.place?.floorId !== floor.id) return null
  const air = model.profileOf(device.id).air
  let best: { found: Repeating; dbm: number } | null = null
  for (const band of BANDS) {
    const main = radiosOn(model, floor, band).find((r) => r.deviceId === point.id)
    const n = settingsOf(device, model.profileOf(device.id)).findIndex(
      (s) => s.isOn && s.band === band,
    )
    const own = air[n]
    if (!main || !own) continue
    const walls: readonly Wall[] = wallsOf(model, floor.id, band)
    const law = { coefficient: floor.coefficient }
    const aboveM = place.heightM - HEAD_M
    const { dbm } = levelAt(main.sender, place, walls, law, main.sender.aboveM - aboveM)
    if (best && best.dbm >= dbm) continue
    const found: Repeating = {
      device,
      floor,
      pointId: point.id,
      band,
      case: {
        point: main.sender,
        pointSpoken: main.spoken,
        eirpDbm: own.powerDbm + own.gainDbi,
        spoken: { generation: own.generation, widthMhz: main.widthMhz, streams: own.streams },
        aboveM,
        radios: air.length > 1 ? 2 : 1,
        spot: spot ?? place,
        client: {
          generation: USUAL_CLIENT.generation,
          widthMhz: USUAL_CLIENT.widthMhz,
          streams: USUAL_CLIENT.streams,
        },
        walls,
        law,
      },
    }
    best = { found, dbm }
  }
  return best?.found ?? null
}
