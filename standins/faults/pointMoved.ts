/** An access point hangs elsewhere than the plan says. */
import { z } from 'zod'
import { defineFault } from './fault'
import { pointsOnPlans } from './onThePlan'

export const pointMoved = defineFault({
  kind: 'point-moved',
  schema: z.strictObject({
    kind: z.literal('point-moved'),
    deviceId: z.string().max(64),
    x: z.number(),
    y: z.number(),
  }),
  of: (f) => f.deviceId,
  offer(plan) {
    const [point] = pointsOnPlans(plan)
    const floor = point && plan.floors[point.place!.floorId]
    if (!point || !floor) return undefined
    const { x, y } = point.place!
    // To the corner that is furthest.
    return {
      fault: {
        ...{ kind: 'point-moved', deviceId: point.id },
        x: x < floor.widthM / 2 ? floor.widthM : 0,
        y: y < floor.depthM / 2 ? floor.depthM : 0,
      },
      label: `Hang ${point.name} into the far corner of ${floor.name}`,
    }
  },
  moves: ({ deviceId, x, y }) => ({ deviceId, x, y }),
})
