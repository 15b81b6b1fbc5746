/** A device sends larger packets into the tunnel than the way carries. */
import { z } from 'zod'
import { defineFault } from './fault'
import { caller } from './onTunnels'

/** Of a way with a tunnel of its own in it. */
const LESS_OCTETS = 1400

export const tunnelSize = defineFault({
  kind: 'tunnel-size',
  schema: z.strictObject({ kind: z.literal('tunnel-size'), peerId: z.string().max(64) }),
  of: ({ peerId }) => peerId,
  offer(plan) {
    const found = caller(plan)
    return (
      found && {
        fault: { kind: 'tunnel-size', peerId: found.peer.id },
        label: `${found.peer.name} is on a way that carries less`,
      }
    )
  },
  spoilsPeer: {
    of: ({ peerId }) => peerId,
    spoil(_, truth) {
      truth.carries = LESS_OCTETS
    },
  },
})
