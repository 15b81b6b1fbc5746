/** Keys of tunnels, and files that are handed out once. */
import { z } from 'zod'
import { endpoint } from './endpoint'
import { moment, name } from './values'

const publicHalf = z.object({ publicKey: z.string(), privateKeyRef: z.string() })

/**
 * Makes a key pair for a tunnel's end or a peer; the private half stays sealed in the vault, and no
 * route shows it.
 */
export const makeTunnelKey = endpoint({
  method: 'POST',
  path: '/api/sites/:site/tunnels/keys',
  access: 'engineer',
  body: z.strictObject({ of: z.enum(['tunnel', 'peer']), id: name }),
  reply: publicHalf,
})

/**
 * Joins this site with others of the asker by tunnels: over this one, or all with all. Each plan gets
 * its end, and each vault the keys of it. What stands in the way is told, and nothing is changed then.
 */
export const joinByTunnels = endpoint({
  method: 'POST',
  path: '/api/sites/:site/tunnels/joins',
  access: 'engineer',
  body: z.strictObject({
    others: z.array(name).min(1).max(49),
    shape: z.enum(['hub', 'all']),
  }),
  reply: z.object({
    joined: z.array(z.object({ siteId: z.string(), name: z.string(), revision: z.number() })),
  }),
})

const handOut = z.object({
  id: z.string(),
  peerId: z.string(),
  by: z.string(),
  madeAt: moment,
  expiresAt: moment,
  openedAt: moment.nullable(),
})
export type HandOut = z.infer<typeof handOut>
/** What was handed out, the newest first; never what was in it. */
export const readHandOuts = endpoint({
  method: 'GET',
  path: '/api/sites/:site/hand-outs',
  access: 'viewer',
  reply: z.array(handOut),
})
/**
 * Makes the file of a peer for one opening. The private key leaves the vault with it. The token is
 * in this answer and nowhere else.
 */
export const handOutPeer = endpoint({
  method: 'POST',
  path: '/api/sites/:site/hand-outs',
  access: 'installer',
  body: z.strictObject({ peerId: name, hours: z.int().min(1).max(168) }),
  reply: z.object({ token: z.string(), expiresAt: moment }),
})
/** What a link is for, without opening it: what previews of messages load opens nothing. */
export const readHandOut = endpoint({
  method: 'GET',
  path: '/api/hand-outs/:token',
  access: 'anybody',
  params: { token: name },
  reply: z.object({ name: z.string(), expiresAt: moment }),
})
/** Opens it, once. */
export const openHandOut = endpoint({
  method: 'POST',
  path: '/api/hand-outs/:token',
  access: 'anybody',
  params: { token: name },
  reply: z.object({ name: z.string(), text: z.string() }),
})
