/** A line has no signal. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine, lineSchema, ofLine } from './onThePlan'

export const deadLine = defineFault({
  kind: 'dead-line',
  schema: z.strictObject({ kind: z.literal('dead-line'), lineId: lineSchema }),
  of: ofLine,
  offer(plan) {
    const line = firstLine(plan)
    return (
      line && {
        fault: { kind: 'dead-line', lineId: line.id },
        label: `Cut the provider's line, ${line.name}`,
      }
    )
  },
  cutsLine: ({ lineId }) => lineId ?? null,
})
