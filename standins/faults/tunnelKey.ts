/** The file on a device is an old one: its key is not the one that is known here. */
import { z } from 'zod'
import { defineFault } from './fault'
import { caller } from './onTunnels'

export const tunnelKey = defineFault({
  kind: 'tunnel-key',
  schema: z.strictObject({ kind: z.literal('tunnel-key'), peerId: z.string().max(64) }),
  of: ({ peerId }) => peerId,
  offer(plan) {
    const found = caller(plan)
    return (
      found && {
        fault: { kind: 'tunnel-key', peerId: found.peer.id },
        label: `Put an old file on ${found.peer.name}`,
      }
    )
  },
  spoilsPeer: {
    of: ({ peerId }) => peerId,
    spoil(_, truth) {
      truth.identity = truth.identity.replace(/^./, (c) => (c === 'A' ? 'B' : 'A'))
    },
  },
})
