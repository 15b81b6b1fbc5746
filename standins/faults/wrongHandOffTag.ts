/** The provider uses another tag than the one recorded; null is none. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine, lineSchema, ofLine } from './onThePlan'

export const wrongHandOffTag = defineFault({
  kind: 'wrong-hand-off-tag',
  schema: z.strictObject({
    kind: z.literal('wrong-hand-off-tag'),
    lineId: lineSchema,
    vlan: z.int().min(1).max(4094).nullable(),
  }),
  of: ofLine,
  offer(plan) {
    const line = firstLine(plan)
    if (!line) return undefined
    const tag = line.handOff.vlan
    const vlan = typeof tag === 'number' ? (tag % 4094) + 1 : 7
    return {
      fault: { kind: 'wrong-hand-off-tag', lineId: line.id, vlan },
      label: `The provider uses tag ${vlan}`,
    }
  },
  spoilsLine: {
    of: ({ lineId }) => lineId ?? null,
    spoil({ vlan }, truth) {
      truth.tag = vlan
    },
  },
})
