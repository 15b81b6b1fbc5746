/** What each unit of a bridge is to read, and how fast it is to be. */
import type { ProofBuilder } from '../proof/builder'
import { stepAt } from './budget/rates'
import { knownBridges } from './reckoned'
import { spreadDb } from './spread'

export function bridgeTests(proof: ProofBuilder): void {
  for (const r of knownBridges(proof.model)) {
    const { facts, toA, toB } = r.budget
    for (const end of ['a', 'b'] as const) {
      const direction = end === 'a' ? toA : toB
      const leastDbm = Math.round((direction.levelDbm - spreadDb(r.budget)) * 10) / 10
      const step = stepAt(direction.steps, leastDbm)
      // Of one over which perhaps nothing passes nothing is promised.
      if (!step) continue
      const { device } = facts[end]
      proof.add(
        {
          id: `${device.id}:bridge@${r.bridge.id}`,
          kind: 'bridge',
          title:
            `${device.name} reads ${leastDbm.toFixed(0)} dBm or better over ${r.bridge.name}, ` +
            `${step.mbps} Mbit/s on the air`,
          from: device.id,
          fromPlace: 'gateway',
          toPlace: 'gateway',
          expected: 'works',
          because: `reckoned ${direction.levelDbm.toFixed(1)} dBm, give or take ${spreadDb(r.budget).toFixed(0)} dB`,
        },
        {
          kind: 'bridge',
          target: null,
          port: null,
          bridge: { bridgeId: r.bridge.id, end, leastDbm, leastMbps: step.mbps },
        },
      )
    }
  }
}
