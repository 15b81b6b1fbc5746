/** The label says something else than what was typed into the plan. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstAccessPoint } from './onThePlan'

export const mistypedSerial = defineFault({
  kind: 'mistyped-serial',
  schema: z.strictObject({ kind: z.literal('mistyped-serial'), deviceId: z.string().max(64) }),
  of: (f) => f.deviceId,
  offer(plan) {
    const point = firstAccessPoint(plan)?.point
    return (
      point && {
        fault: { kind: 'mistyped-serial', deviceId: point.id },
        label: `The label of ${point.name} says another serial`,
      }
    )
  },
  put: (world, { deviceId }, on) =>
    world.appliance(deviceId)
      ? { ok: true, text: `the label says ${world.relabel(deviceId, on)}` }
      : { ok: false, text: 'only a device that a controller adopts has a serial to mistype' },
})
