/** A device calls an address that the line does not have any more. */
import { z } from 'zod'
import { defineFault } from './fault'
import { caller } from './onTunnels'

/** Of nobody (RFC 5737). */
const OLD_ADDRESS = '192.0.2.199'

export const tunnelEndpoint = defineFault({
  kind: 'tunnel-endpoint',
  schema: z.strictObject({ kind: z.literal('tunnel-endpoint'), peerId: z.string().max(64) }),
  of: ({ peerId }) => peerId,
  offer(plan) {
    const found = caller(plan)
    return (
      found && {
        fault: { kind: 'tunnel-endpoint', peerId: found.peer.id },
        label: `${found.peer.name} calls an old address`,
      }
    )
  },
  spoilsPeer: {
    of: ({ peerId }) => peerId,
    spoil(_, truth) {
      const { endpoint } = truth.here
      if (endpoint) truth.here = { ...truth.here, endpoint: { ...endpoint, host: OLD_ADDRESS } }
    },
  },
})
