/** C-45: slower than what it has to carry. */
import { defineRule } from '../../findings/rule'
import { knownBridges } from '../reckoned'
import { improvements } from './improvements'
import { CARRIES } from './reads'

const mbps = (n: number): string => (n >= 100 ? n.toFixed(0) : n.toFixed(1))

export default defineRule({
  id: 'bridges/too-slow',
  severity: 'caution',
  catches: ['C-45'],
  title: 'The bridge is slower than what it has to carry',
  sheet: 'bridges',
  reads: CARRIES,
  *check(model) {
    for (const r of knownBridges(model)) {
      const { toB, toA, facts } = r.budget
      // Of one over which nothing passes another rule speaks.
      if (!toB.step || !toA.step) continue
      const lacks = (passing: typeof r.clear): boolean =>
        passing.airtime > 1 + 1e-9 || Math.max(r.carried.toB, r.carried.toA) > r.socketMbps
      const isAlways = lacks(r.clear)
      const isAtTimes = r.heldToB !== null && r.heldToA !== null && lacks(r.held)
      if (!isAlways && !isAtTimes) continue
      const passing = isAlways ? r.clear : r.held
      yield {
        key: r.bridge.id,
        subjects: [r.bridge.id],
        text:
          `${r.bridge.name} has to carry ${mbps(r.carried.toB)} Mbit/s to ${facts.b.device.name} and ` +
          `${mbps(r.carried.toA)} back; ${mbps(passing.toB)} and ${mbps(passing.toA)} pass` +
          (isAlways ? '.' : `, at what is held ${r.bridge.availabilityPercent} % of the year.`),
        why:
          'Both directions take turns on the air, and a third or more of its rate goes to waiting ' +
          'and acknowledging.',
        numbers: [
          {
            label: 'has to',
            value: `${mbps(r.carried.toB)} + ${mbps(r.carried.toA)} Mbit/s`,
            how: r.carried.how,
          },
          {
            label: 'air',
            value: `${(passing.airtime * 100).toFixed(0)} %`,
            how: `each direction's need over its rate x ${facts.a.unit.dataShare}`,
          },
          ...(Number.isFinite(r.socketMbps)
            ? [{ label: 'socket', value: `${r.socketMbps} Mbit/s`, how: 'the slowest on its way' }]
            : []),
        ],
        fixes: improvements(
          model,
          r,
          (n) => n.heldToB !== null && n.heldToA !== null && !lacks(n.clear) && !lacks(n.held),
        ),
      }
    }
  },
})
