/** People who are served by nobody, and radios that are asked for more time than there is. */
import { bands, type Band } from '../../radio/bands'
import { defineRule } from '../../findings/rule'
import { MOST_BUSY, radiosForAirtime } from '../coverage/airtime'
import { floorService, USUAL_CLIENT, type FloorService } from '../coverage/floorService'

/** Less than this share of an area served is told. */
const ENOUGH = 0.9
const STEP_M = 1
const MOST_POINTS = 4000

export default defineRule({
  id: 'wifi/unserved',
  severity: 'caution',
  catches: [],
  title: 'People are where no access point serves them',
  sheet: 'wifi',
  reads: ['site', 'devices', 'profiles', 'floors', 'walls', 'areas', 'clientTypes'],
  *check(model) {
    for (const floor of Object.values(model.plan.floors)) {
      const areas = Object.values(model.plan.areas).filter(
        (a) => a.floorId === floor.id && a.kind === 'people' && a.heads > 0,
      )
      if (areas.length === 0) continue
      const step = Math.max(STEP_M, Math.sqrt((floor.widthM * floor.depthM) / MOST_POINTS))
      const by = new Map<Band, FloorService>(
        bands.map((b) => [b, floorService(model, floor, b, USUAL_CLIENT, step)]),
      )
      if ([...by.values()].every((s) => s.radios.length === 0)) continue
      for (const area of areas) {
        const best = [...by].map(([band, s]) => ({
          band,
          of: s.areas.find((a) => a.areaId === area.id)!,
        }))
        const top = best.sort((a, b) => b.of.covered - a.of.covered)[0]!
        if (top.of.covered >= ENOUGH) continue
        const type = area.clientTypeId ? model.plan.clientTypes[area.clientTypeId] : undefined
        yield {
          key: `area:${area.id}`,
          subjects: [area.id, floor.id],
          text:
            `In ${area.name} ${Math.round(top.of.covered * 100)} % of the area is served, ` +
            `at the best in ${top.band} GHz.`,
          why:
            `${type?.name ?? 'The usual client'} joins from ${(type ?? USUAL_CLIENT).leastDbm} dBm on; ` +
            'beyond that there is no service.',
          numbers: [{ label: 'people there', value: String(area.heads) }],
          fixes: [],
        }
      }
      // Everybody may be in one band or another: it is too much only where all together are full.
      const needed = [...by].filter(([, s]) => s.radios.length > 0 && s.airtime.unserved < 0.5)
      const full = needed.filter(([, s]) => s.airtime.busy.some((b) => b > MOST_BUSY))
      if (needed.length === 0 || full.length < needed.length) continue
      const [band, s] = full.sort(
        (a, b) => radiosForAirtime(a[1].airtime) - radiosForAirtime(b[1].airtime),
      )[0]!
      const worst = s.airtime.busy.reduce((m, b, n) => (b > s.airtime.busy[m]! ? n : m), 0)
      const point = model.device(s.radios[worst]!.deviceId)
      yield {
        key: `full:${floor.id}`,
        title: 'An access point is asked for more time than there is',
        subjects: [point.id, floor.id],
        text:
          `${point.name} is asked for ${Math.round(s.airtime.busy[worst]! * 100)} % of its time in ` +
          `${band} GHz on ${floor.name}; beyond ${MOST_BUSY * 100} % people wait.`,
        why:
          `What all need there takes ${radiosForAirtime(s.airtime)} radios, were it spread evenly; ` +
          `${s.radios.length} are on.`,
        numbers: [
          {
            label: 'people it serves',
            value: String(Math.round(s.airtime.heads[worst]!)),
            how: 'need / (rate x 0.6) of each, added up',
          },
        ],
        fixes: [],
      }
    }
  },
})
