/** Somebody at the other end of IKEv2 set a value anew, and told nobody. */
import { activeTunnels, endsOnGateway, peersOf } from '@mast/core/plan'
import { z } from 'zod'
import { defineFault } from './fault'

export const tunnelForeign = defineFault({
  kind: 'tunnel-foreign',
  schema: z.strictObject({
    kind: z.literal('tunnel-foreign'),
    peerId: z.string().max(64),
    what: z.enum(['proposal', 'identity', 'key', 'networks']),
  }),
  of: ({ peerId }) => peerId,
  offer(plan) {
    const peers = activeTunnels(plan)
      .filter((t) => t.protocol === 'ikev2' && t.ike && endsOnGateway(plan, t))
      .flatMap((t) => peersOf(plan, t.id))
    const [peer] = peers
    return (
      peer && {
        fault: { kind: 'tunnel-foreign', peerId: peer.id, what: 'proposal' as const },
        label: `Set another proposal at ${peer.name}`,
      }
    )
  },
  spoilsPeer: {
    of: ({ peerId }) => peerId,
    spoil({ what }, truth) {
      const { ike } = truth
      if (!ike) return
      truth.ike = {
        ...ike,
        ...(what === 'proposal' ? { proposal: 'aes128-sha1-modp1024' } : {}),
        ...(what === 'identity' ? { localId: `old-${ike.localId}` } : {}),
        ...(what === 'key' ? { sharedKey: 'as it was before' } : {}),
        ...(what === 'networks' ? { remote: [{ network: 0x0afe_fe00, length: 24 }] } : {}),
      }
    },
  },
})
