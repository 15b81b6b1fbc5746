/** Somebody pulled the plug of an access point. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstAccessPoint, pointsOnPlans } from './onThePlan'

export const pointOff = defineFault({
  kind: 'point-off',
  schema: z.strictObject({ kind: z.literal('point-off'), deviceId: z.string().max(64) }),
  of: (f) => f.deviceId,
  offer(plan) {
    const point = pointsOnPlans(plan).at(-1) ?? firstAccessPoint(plan)?.point
    return (
      point && {
        fault: { kind: 'point-off', deviceId: point.id },
        label: `Switch ${point.name} off`,
      }
    )
  },
  put(world, { deviceId }, on) {
    const point = world.accessPoint(deviceId)
    if (!point) return { ok: false, text: 'there is no such access point here' }
    point.setPower(!on)
    return { ok: true, text: on ? 'it is off' : 'it has power' }
  },
})
