/** Point to several points: the far end that takes the time of all others. */
import { defineRule } from '../../findings/rule'
import { sectorsOf } from '../sectors/sectors'
import { CARRIES } from './reads'

export default defineRule({
  id: 'bridges/dragging',
  severity: 'caution',
  catches: ['C-45'],
  title: 'One far end takes the time of the others',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    for (const { device, sector, bridges } of sectorsOf(model)) {
      if (sector.airtime <= 1 + 1e-9) continue
      const worst = bridges.find((r) => r.bridge.id === sector.dragging)
      const own = worst && sector.ends.find((e) => e.id === worst.bridge.id)
      yield {
        key: device.id,
        subjects: [device.id, ...(worst ? [worst.bridge.id] : [])],
        text:
          `${device.name} is asked for ${Math.round(sector.airtime * 100)} % of its time by ` +
          `${bridges.length} far ends` +
          (worst && own
            ? `; ${worst.bridge.name} takes ${Math.round(own.airtime * 100)} % of it, at ` +
              `${worst.budget.toB.step?.mbps ?? 0} Mbit/s.`
            : '.'),
        why:
          'All share one air: a slow one takes longest for each frame. Give it a better antenna, ' +
          'or a unit of its own.',
        numbers: sector.ends.map((e) => ({
          label: bridges.find((r) => r.bridge.id === e.id)!.bridge.name,
          value: Number.isFinite(e.airtime) ? `${Math.round(e.airtime * 100)} %` : 'not heard',
          how: `gets ${e.getsMbps.toFixed(1)} Mbit/s`,
        })),
        fixes: [],
      }
    }
  },
})
