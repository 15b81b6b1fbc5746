/** Nobody keeps the way open through the router before a device. */
import { z } from 'zod'
import { defineFault } from './fault'
import { caller } from './onTunnels'

export const tunnelSilence = defineFault({
  kind: 'tunnel-silence',
  schema: z.strictObject({ kind: z.literal('tunnel-silence'), peerId: z.string().max(64) }),
  of: ({ peerId }) => peerId,
  offer(plan) {
    const found = caller(plan, (_, p) => p.networks.length > 0 || p.device === 'laptop')
    return (
      found && {
        fault: { kind: 'tunnel-silence', peerId: found.peer.id },
        label: `${found.peer.name} keeps its way open no longer`,
      }
    )
  },
  spoilsPeer: {
    of: ({ peerId }) => peerId,
    spoil(_, truth) {
      truth.here = { ...truth.here, keepaliveSeconds: 0 }
    },
  },
})
