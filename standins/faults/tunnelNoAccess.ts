/** What comes out of a tunnel gets no further than the gateway. */
import { z } from 'zod'
import { defineFault } from './fault'
import { endsOnGateway } from '@mast/core/plan'
import { caller } from './onTunnels'

export const tunnelNoAccess = defineFault({
  kind: 'tunnel-no-access',
  schema: z.strictObject({ kind: z.literal('tunnel-no-access'), tunnelId: z.string().max(64) }),
  of: ({ tunnelId }) => tunnelId,
  offer(plan) {
    const found = caller(plan, (t) => endsOnGateway(plan, t))
    return (
      found && {
        fault: { kind: 'tunnel-no-access', tunnelId: found.tunnel.id },
        label: `The gateway lets nobody of ${found.tunnel.name} further inside`,
      }
    )
  },
  put(world, { tunnelId }, on) {
    if (!world.gateway || !world.plan.tunnels[tunnelId])
      return { ok: false, text: 'no gateway has that tunnel' }
    world.gateway.deafen(tunnelId, on)
    return { ok: true, text: on ? 'it gets no further' : 'it gets on again' }
  },
})
