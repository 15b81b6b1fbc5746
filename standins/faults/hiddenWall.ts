/** A metal wall that nobody drew: across a plan of the place, beside the access point that hangs first. */
import { z } from 'zod'
import { defineFault } from './fault'

/** What a sheet of metal takes, dB (common practice). */
const METAL_DB = 30

export const hiddenWall = defineFault({
  kind: 'hidden-wall',
  schema: z.strictObject({
    kind: z.literal('hidden-wall'),
    floorId: z.string().max(64),
    x: z.number(),
    depthM: z.number(),
  }),
  of: (f) => `${f.floorId}:${f.x}`,
  offer(plan) {
    const point = Object.values(plan.devices).find(
      (d) => d.place !== null && plan.profiles[d.profileId]!.kind === 'access-point',
    )
    const floor = point?.place ? plan.floors[point.place.floorId] : undefined
    if (!point?.place || !floor) return undefined
    // Towards the side where more of the plan lies.
    const by = point.place.x < floor.widthM / 2 ? 1 : -1
    return {
      fault: {
        kind: 'hidden-wall',
        floorId: floor.id,
        x: Math.round((point.place.x + by) * 10) / 10,
        depthM: floor.depthM,
      },
      label: `Put a metal wall beside ${point.name} on ${floor.name}`,
    }
  },
  hiddenWall: ({ floorId, x, depthM }) => ({
    ...{ floorId, lossDb: METAL_DB },
    from: [x, 0],
    to: [x, depthM],
  }),
})
