/** A dish that somebody locked on its side lobe. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstBridge, unitAt } from './onBridges'

/** Where the first side lobe of a round opening is, in widths of its beam (antenna handbooks). */
const SIDE_LOBE_WIDTHS = 1.59

export const misaimed = defineFault({
  kind: 'misaimed',
  schema: z.strictObject({
    kind: z.literal('misaimed'),
    bridgeId: z.string().max(64),
    end: z.enum(['a', 'b']),
    degrees: z.number().min(-180).max(180),
  }),
  of: (f) => `${f.bridgeId}:${f.end}`,
  offer(plan) {
    const bridge = firstBridge(plan)
    if (!bridge) return undefined
    const unit = unitAt(plan, bridge, 'b')
    const width =
      bridge.b.antenna?.widthDegrees ?? plan.profiles[unit.profileId]!.bridge?.antenna.widthDegrees
    if (width === undefined) return undefined
    return {
      fault: {
        kind: 'misaimed',
        bridgeId: bridge.id,
        end: 'b' as const,
        degrees: Math.round(width * SIDE_LOBE_WIDTHS * 10) / 10,
      },
      label: `${unit.name} is locked on its side lobe`,
    }
  },
  spoilsBridge: {
    of: (f) => f.bridgeId,
    spoil: (f, truth) => {
      const { across, up } = truth[f.end].pointed
      truth[f.end].pointed = { across: across + f.degrees, up }
    },
  },
})
