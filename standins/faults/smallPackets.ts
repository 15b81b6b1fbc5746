/** The line carries no larger packets than this, and says nothing of it. */
import { lineMtuOf } from '@mast/core/plan'
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine, lineSchema, ofLine } from './onThePlan'

export const smallPackets = defineFault({
  kind: 'small-packets',
  schema: z.strictObject({
    kind: z.literal('small-packets'),
    lineId: lineSchema,
    octets: z.int().min(576).max(1500),
  }),
  of: ofLine,
  offer(plan) {
    const line = firstLine(plan)
    if (!line) return undefined
    const octets = Math.max(576, Math.min(1400, lineMtuOf(line.handOff) - 28))
    return {
      fault: { kind: 'small-packets', lineId: line.id, octets },
      label: `The line loses packets over ${octets} octets`,
    }
  },
  spoilsLine: {
    of: ({ lineId }) => lineId ?? null,
    spoil({ octets }, truth) {
      truth.mtu = Math.min(truth.mtu, octets)
    },
  },
})
