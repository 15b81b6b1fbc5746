/** The gateway takes nothing in at the port of a tunnel. */
import { z } from 'zod'
import { defineFault } from './fault'
import { endsOnGateway } from '@mast/core/plan'
import { caller } from './onTunnels'

export const tunnelPort = defineFault({
  kind: 'tunnel-port',
  schema: z.strictObject({ kind: z.literal('tunnel-port'), tunnelId: z.string().max(64) }),
  of: ({ tunnelId }) => tunnelId,
  offer(plan) {
    const found = caller(plan, (t) => endsOnGateway(plan, t))
    return (
      found && {
        fault: { kind: 'tunnel-port', tunnelId: found.tunnel.id },
        label: `The gateway does not open the port of ${found.tunnel.name}`,
      }
    )
  },
  put(world, { tunnelId }, on) {
    const port = world.plan.tunnels[tunnelId]?.listenPort
    if (!world.gateway || !port) return { ok: false, text: 'no gateway listens for that tunnel' }
    world.gateway.shut(port, on)
    return { ok: true, text: on ? 'the port is shut' : 'the port is open again' }
  },
})
