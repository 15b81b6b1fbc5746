/** What a client is to read in each area with people: a level and a speed, with what may be off. */
import type { ProofBuilder } from '../proof/builder'
import { bands, type Band } from '../radio/bands'
import type { Device, WirelessNetwork } from '../plan'
import { bestRateMbps, spokenBy } from '../radio/rates'
import { DATA_SHARE } from './coverage/airtime'
import { isWithin, radiosOn, wallsOf, type FloorRadio } from './coverage/floorAir'
import { levelAt } from './coverage/levelAt'
import type { Point } from './coverage/place'
import { standAt, throughMbps } from './extenders/extending'
import { isRepeater } from './extenders/isRepeater'
import { repeatingOf } from './extenders/ofDevice'

/** Levels wander by so much where nobody measured, dB (one deviation; common practice). */
const SHADOW_DB = 4
/** Each wall on the way is known so well, dB. */
const WALL_DB = 2.5
/** Twice that is rare. */
const TWICE = 2
/** Under that nobody is promised anything, dBm. */
const FLOOR_DBM = -80
/** Of the speed reckoned, so much is to come: others send as well. */
const SPEED_SHARE = 0.25

/** A point within corners, near their middle. */
function middleOf(corners: readonly Point[]): Point | null {
  const mean = {
    x: corners.reduce((s, p) => s + p.x, 0) / corners.length,
    y: corners.reduce((s, p) => s + p.y, 0) / corners.length,
  }
  return isWithin(mean, corners) ? mean : null
}

export function airTests(proof: ProofBuilder): void {
  const { model } = proof
  const networks = Object.values(model.plan.wirelessNetworks)
  /** An extender sends what the access point sends that it repeats. */
  const sentBy = (id: string): string => {
    const device = model.device(id)
    return isRepeater(model, device) ? (device.listensToId ?? id) : id
  }
  for (const area of Object.values(model.plan.areas)) {
    const floor = model.plan.floors[area.floorId]
    const at = middleOf(area.points)
    if (area.kind !== 'people' || area.heads === 0 || !floor || !at) continue
    const walls = new Map(bands.map((b) => [b, wallsOf(model, floor.id, b)]))
    const radios = bands.flatMap((band) =>
      radiosOn(model, floor, band).map((radio) => ({ band, radio })),
    )
    const best = (network: WirelessNetwork, client: Device) => {
      const knows = new Set(model.profileOf(client.id).air.flatMap((r) => r.bands))
      return radios
        .filter(
          ({ band, radio }) =>
            knows.has(band) &&
            network.bands.includes(band) &&
            network.accessPointIds.includes(sentBy(radio.deviceId)),
        )
        .map(
          ({
            band,
            radio,
          }): { band: Band; radio: FloorRadio; parts: ReturnType<typeof levelAt> } => ({
            ...{ band, radio },
            parts: levelAt(radio.sender, at, walls.get(band)!, { coefficient: floor.coefficient }),
          }),
        )
        .sort((a, b) => b.parts.dbm - a.parts.dbm)[0]
    }
    const asked = networks.flatMap((network) => {
      const client = proof.hosts.find((h) => h.wirelessNetworkId === network.id)
      const found = client && best(network, client)
      return found ? [{ network, client, found }] : []
    })
    const loudest = asked.sort((a, b) => b.found.parts.dbm - a.found.parts.dbm)[0]
    if (!loudest) continue
    const { network, client, found } = loudest
    const off = TWICE * Math.hypot(SHADOW_DB, WALL_DB * Math.sqrt(found.parts.crossed.length))
    const leastDbm = Math.round((found.parts.dbm - off) * 10) / 10
    if (leastDbm < FLOOR_DBM) continue
    const built = model.profileOf(client.id).air[0]!
    const direct = bestRateMbps(
      spokenBy(found.radio.spoken, {
        generation: built.generation,
        widthMhz: 20,
        streams: built.streams,
      }),
      leastDbm,
    )
    const repeating = repeatingOf(model, model.device(found.radio.deviceId), at)
    const rate = repeating
      ? throughMbps(
          standAt(repeating.case, repeating.device.place!).toPointMbps,
          direct,
          repeating.case.radios,
        )
      : direct
    proof.add(
      {
        id: `${client.id}:air@${area.id}`,
        kind: 'air',
        title:
          `${client.name}, carried to ${area.name}, hears '${network.name}' with ` +
          `${leastDbm.toFixed(0)} dBm or better`,
        from: client.id,
        fromPlace: network.segmentId,
        toPlace: 'gateway',
        expected: 'works',
        because:
          `reckoned ${found.parts.dbm.toFixed(0)} dBm of ${model.device(found.radio.deviceId).name} ` +
          `in ${found.band} GHz, give or take ${off.toFixed(0)} dB`,
      },
      {
        kind: 'air',
        target: null,
        port: null,
        spot: {
          floorId: floor.id,
          x: at.x,
          y: at.y,
          leastDbm,
          leastMbps: Math.round(rate * DATA_SHARE * SPEED_SHARE * 10) / 10,
        },
      },
    )
  }
}
