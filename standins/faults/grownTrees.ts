/** Years have gone by, and the trees on a path with them. */
import { z } from 'zod'
import { defineFault } from './fault'

export const grownTrees = defineFault({
  kind: 'grown-trees',
  schema: z.strictObject({
    kind: z.literal('grown-trees'),
    bridgeId: z.string().max(64),
    metres: z.number().min(0).max(100),
  }),
  of: (f) => f.bridgeId,
  offer(plan) {
    const bridge = Object.values(plan.bridges).find((b) =>
      b.obstacles.some((o) => o.kind === 'trees'),
    )
    return bridge
      ? {
          fault: { kind: 'grown-trees', bridgeId: bridge.id, metres: 6 },
          label: `The trees on the path of ${bridge.name} have grown by 6 m`,
        }
      : undefined
  },
  spoilsBridge: {
    of: (f) => f.bridgeId,
    spoil: (f, truth) => {
      truth.grownM = f.metres
    },
  },
})
