/** A client downloads without end. */
import { z } from 'zod'
import { defineFault } from './fault'

const DRAINS = { downBps: 80e6, upBps: 2e6 }

export const drainingClient = defineFault({
  kind: 'draining-client',
  schema: z.strictObject({ kind: z.literal('draining-client'), deviceId: z.string().max(64) }),
  of: (f) => f.deviceId,
  offer(plan) {
    const client = Object.values(plan.devices).find((d) => d.wirelessNetworkId !== null)
    return (
      client && {
        fault: { kind: 'draining-client', deviceId: client.id },
        label: `Let ${client.name} download without end`,
      }
    )
  },
  put(world, { deviceId }, on) {
    const host = world.host(deviceId)
    if (!host) return { ok: false, text: 'only a client on the air can be told to' }
    host.demands = on ? DRAINS : null
    return { ok: true, text: on ? 'it downloads' : 'it has stopped' }
  },
})
