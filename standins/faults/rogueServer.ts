/** A host hands out leases that nobody planned, in whatever segment it is. */
import { z } from 'zod'
import { defineFault } from './fault'
import { wiredHosts } from './onThePlan'

export const rogueServer = defineFault({
  kind: 'rogue-server',
  schema: z.strictObject({ kind: z.literal('rogue-server'), deviceId: z.string().max(64) }),
  of: (f) => f.deviceId,
  offer(plan) {
    const host = wiredHosts(plan)[0]?.host
    return (
      host && {
        fault: { kind: 'rogue-server', deviceId: host.id },
        label: `${host.name} hands out leases of its own`,
      }
    )
  },
  put(world, { deviceId }, on) {
    const host = world.host(deviceId)
    if (!host) return { ok: false, text: 'only a host can be made to hand out leases' }
    host.setStray(on)
    return undefined
  },
})
