/** What the vault keeps for a site. */
import { z } from 'zod'
import { endpoint } from './endpoint'
import { moment, name, nothing } from './values'

/** Names of the secrets that the vault has, not the secrets. */
export const readSecrets = endpoint({
  method: 'GET',
  path: '/api/sites/:site/secrets',
  access: 'viewer',
  reply: z.array(z.object({ ref: z.string(), changedAt: moment })),
})
/** Shows a secret to who may install; the log keeps that it was shown, not what it is. */
export const readSecret = endpoint({
  method: 'GET',
  path: '/api/sites/:site/secrets/:ref',
  access: 'installer',
  params: { ref: name },
  reply: z.object({ secret: z.string() }),
})
/**
 * Sets a secret; without one given, a strong one is made up. A wireless key is 8 to 63 characters
 * (IEEE 802.11).
 */
export const setSecret = endpoint({
  method: 'PUT',
  path: '/api/sites/:site/secrets/:ref',
  access: 'engineer',
  params: { ref: z.string().min(1).max(64) },
  body: z.strictObject({
    secret: z
      .string()
      .min(8)
      .max(63)
      .regex(/^[\x20-\x7e]+$/, 'printable ASCII only')
      .nullable(),
  }),
  reply: nothing,
})
