/** The file on a device names too little: only the end here. */
import { z } from 'zod'
import { defineFault } from './fault'
import { caller } from './onTunnels'

export const tunnelAllowed = defineFault({
  kind: 'tunnel-allowed',
  schema: z.strictObject({ kind: z.literal('tunnel-allowed'), peerId: z.string().max(64) }),
  of: ({ peerId }) => peerId,
  offer(plan) {
    const found = caller(plan)
    return (
      found && {
        fault: { kind: 'tunnel-allowed', peerId: found.peer.id },
        label: `The file of ${found.peer.name} allows the gateway alone`,
      }
    )
  },
  spoilsPeer: {
    of: ({ peerId }) => peerId,
    spoil(_, truth) {
      const { here } = truth
      truth.here = { ...here, allowed: here.allowed.filter((s) => s.length === 32) }
    },
  },
})
