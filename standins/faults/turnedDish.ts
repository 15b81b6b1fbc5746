/** One antenna hangs turned by a right angle: upright on one side, flat on the other. */
import { z } from 'zod'
import { defineFault } from './fault'
import { unitAt } from './onBridges'

export const turnedDish = defineFault({
  kind: 'turned-dish',
  schema: z.strictObject({
    kind: z.literal('turned-dish'),
    bridgeId: z.string().max(64),
    end: z.enum(['a', 'b']),
  }),
  of: (f) => `${f.bridgeId}:${f.end}`,
  offer(plan) {
    // What sends both ways at once does not care.
    const bridge = Object.values(plan.bridges).find(
      (b) => b.a.polarisation !== 'both' && b.b.polarisation !== 'both' && b.a.channel !== null,
    )
    return bridge
      ? {
          fault: { kind: 'turned-dish', bridgeId: bridge.id, end: 'b' as const },
          label: `${unitAt(plan, bridge, 'b').name} hangs turned by a right angle`,
        }
      : undefined
  },
  spoilsBridge: {
    of: (f) => f.bridgeId,
    spoil: (f, truth) => {
      truth[f.end].isTurned = !truth[f.end].isTurned
    },
  },
})
