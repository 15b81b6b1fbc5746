/** Of what is asked over a line, some gets no answer. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine, lineSchema, ofLine } from './onThePlan'

export const lossyLine = defineFault({
  kind: 'lossy-line',
  schema: z.strictObject({
    kind: z.literal('lossy-line'),
    lineId: lineSchema,
    percent: z.number().min(0).max(100),
  }),
  of: ofLine,
  offer(plan) {
    const line = firstLine(plan)
    return (
      line && {
        fault: { kind: 'lossy-line', lineId: line.id, percent: 40 },
        label: `${line.name} loses 40 % of what is asked`,
      }
    )
  },
  spoilsPath: {
    of: ({ lineId }) => lineId ?? null,
    spoil({ percent }, path) {
      path.loss = Math.max(path.loss, percent / 100)
    },
  },
})
