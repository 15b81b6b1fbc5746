/** The name of the line is changed no more, and then its address changes: the first update was all. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine, lineSchema, ofLine } from './onThePlan'
import { caller } from './onTunnels'

export const staleName = defineFault({
  kind: 'stale-name',
  schema: z.strictObject({ kind: z.literal('stale-name'), lineId: lineSchema }),
  of: ofLine,
  offer(plan) {
    const found = caller(plan, (t) => t.endpointName !== null && t.dynamicName !== null)
    const line = firstLine(plan)
    return found && line && line.handOff.mode !== 'fixed'
      ? {
          fault: { kind: 'stale-name', lineId: line.id },
          label: `${line.name} gets another address, and ${found.tunnel.endpointName} stays where it is`,
        }
      : undefined
  },
  put(world, _, on) {
    world.outside.names.isStuck = on
    return { ok: true, text: on ? 'the name follows no more' : 'the name follows again' }
  },
  spoilsLine: {
    of: ({ lineId }) => lineId ?? null,
    spoil(_, truth) {
      if (truth.mode !== 'fixed') truth.customer += 1
    },
  },
})
