/** The line has no signal. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine } from './onThePlan'

export const deadLine = defineFault({
  kind: 'dead-line',
  schema: z.strictObject({ kind: z.literal('dead-line') }),
  offer: (plan) =>
    firstLine(plan)
      ? { fault: { kind: 'dead-line' }, label: "Cut the provider's line" }
      : undefined,
  cutsLine: true,
})
