import { createError } from 'h3'
import { z } from 'zod'
import { signedInRoute } from '../../http/handlers'
import { importSite } from '../../portable/transfer'

const BOUNDS = { maxBytes: 64 * 1024 * 1024, maxMs: 120_000 }

/** A site out of a file, as a new site of whoever brings it. */
export default signedInRoute(z.strictObject({ file: z.unknown(), passphrase: z.string().max(200).nullable() }), async ({ account, body }) => {
  const outcome = await importSite(body.file, body.passphrase, account.id)
  if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
  return { id: outcome.id, revision: outcome.revision }
}, BOUNDS)
