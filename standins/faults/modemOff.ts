/** The modem of a line has no power; with it again it takes its time to start. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine, lineSchema, ofLine } from './onThePlan'

export const modemOff = defineFault({
  kind: 'modem-off',
  schema: z.strictObject({ kind: z.literal('modem-off'), lineId: lineSchema }),
  of: ofLine,
  offer(plan) {
    const line = firstLine(plan)
    return (
      line && {
        fault: { kind: 'modem-off', lineId: line.id },
        label: `The modem of ${line.name} has no power`,
      }
    )
  },
  spoilsPath: {
    of: ({ lineId }) => lineId ?? null,
    spoil(_, path) {
      path.hasPower = false
    },
  },
})
