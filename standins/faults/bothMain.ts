/** Both ends of a bridge have the same role. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstBridge } from './onBridges'

export const bothMain = defineFault({
  kind: 'both-main',
  schema: z.strictObject({ kind: z.literal('both-main'), bridgeId: z.string().max(64) }),
  of: (f) => f.bridgeId,
  offer(plan) {
    const bridge = firstBridge(plan)
    return bridge
      ? {
          fault: { kind: 'both-main', bridgeId: bridge.id },
          label: `Both ends of ${bridge.name} are set as the main end`,
        }
      : undefined
  },
  spoilsBridge: {
    of: (f) => f.bridgeId,
    spoil: (_, truth) => {
      truth.a.role = 'main'
      truth.b.role = 'main'
    },
  },
})
