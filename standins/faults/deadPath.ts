/** Nothing leads anywhere behind the modem of a line, which keeps its signal. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine, lineSchema, ofLine } from './onThePlan'

export const deadPath = defineFault({
  kind: 'dead-path',
  schema: z.strictObject({ kind: z.literal('dead-path'), lineId: lineSchema }),
  of: ofLine,
  offer(plan) {
    const line = firstLine(plan)
    return (
      line && {
        fault: { kind: 'dead-path', lineId: line.id },
        label: `${line.name} keeps its signal and leads nowhere`,
      }
    )
  },
  spoilsPath: {
    of: ({ lineId }) => lineId ?? null,
    spoil(_, path) {
      path.isDead = true
    },
  },
})
