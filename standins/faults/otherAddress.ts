/** The provider gives another address than before. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine, lineSchema, ofLine } from './onThePlan'

export const otherAddress = defineFault({
  kind: 'other-address',
  schema: z.strictObject({ kind: z.literal('other-address'), lineId: lineSchema }),
  of: ofLine,
  offer(plan) {
    const line = firstLine(plan)
    return line && line.handOff.mode !== 'fixed'
      ? {
          fault: { kind: 'other-address', lineId: line.id },
          label: `The provider of ${line.name} gives another address`,
        }
      : undefined
  },
  spoilsLine: {
    of: ({ lineId }) => lineId ?? null,
    spoil(_, truth) {
      if (truth.mode !== 'fixed') truth.customer += 1
    },
  },
})
