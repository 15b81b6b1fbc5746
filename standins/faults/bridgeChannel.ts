/** One end of a bridge is on another channel than the plan says. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstBridge, unitAt } from './onBridges'

export const bridgeChannel = defineFault({
  kind: 'bridge-channel',
  schema: z.strictObject({
    kind: z.literal('bridge-channel'),
    bridgeId: z.string().max(64),
    end: z.enum(['a', 'b']),
    channel: z.int().min(1).max(9999),
  }),
  of: (f) => `${f.bridgeId}:${f.end}`,
  offer(plan) {
    const bridge = firstBridge(plan)
    const unit = bridge && unitAt(plan, bridge, 'b')
    const other =
      unit &&
      plan.profiles[unit.profileId]!.bridge?.channels.find((c) => c.number !== bridge.b.channel)
    return bridge && unit && other
      ? {
          fault: {
            kind: 'bridge-channel',
            bridgeId: bridge.id,
            end: 'b' as const,
            channel: other.number,
          },
          label: `${unit.name} is on channel ${other.number}`,
        }
      : undefined
  },
  spoilsBridge: {
    of: (f) => f.bridgeId,
    spoil: (f, truth) => {
      truth[f.end].channel = f.channel
    },
  },
})
