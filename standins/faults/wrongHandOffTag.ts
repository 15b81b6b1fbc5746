/** The provider uses another tag than the one recorded; null is none. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstLine } from './onThePlan'

export const wrongHandOffTag = defineFault({
  kind: 'wrong-hand-off-tag',
  schema: z.strictObject({
    kind: z.literal('wrong-hand-off-tag'),
    vlan: z.int().min(1).max(4094).nullable(),
  }),
  offer(plan) {
    const tag = firstLine(plan)?.handOff.vlan
    if (tag === undefined) return undefined
    const vlan = typeof tag === 'number' ? (tag % 4094) + 1 : 7
    return { fault: { kind: 'wrong-hand-off-tag', vlan }, label: `The provider uses tag ${vlan}` }
  },
  spoilLine({ vlan }, truth) {
    truth.tag = vlan
  },
})
