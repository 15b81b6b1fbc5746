/** It rains hard on the path of a bridge. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstBridge } from './onBridges'

export const cloudburst = defineFault({
  kind: 'cloudburst',
  schema: z.strictObject({
    kind: z.literal('cloudburst'),
    bridgeId: z.string().max(64),
    rainMmH: z.number().min(1).max(250),
  }),
  of: (f) => f.bridgeId,
  offer(plan) {
    const bridge = firstBridge(plan)
    return bridge
      ? {
          fault: { kind: 'cloudburst', bridgeId: bridge.id, rainMmH: 80 },
          label: `A cloudburst of 80 mm/h over ${bridge.name}`,
        }
      : undefined
  },
  spoilsBridge: {
    of: (f) => f.bridgeId,
    spoil: (f, truth) => {
      truth.rainMmH = f.rainMmH
    },
  },
})
