import { createError } from 'h3'
import { octetsFor, signedInRoute } from '../http/handlers'
import { noMoreSites } from '../sites/limits'
import { inThread, TooLong } from '../work/workers'

const BOUNDS = { maxBytes: 8 * 1024 * 1024, maxMs: 30_000 }
const WORK_MS = 30_000

/** Opens a site, empty or from a plan document. */
export default signedInRoute(undefined, async ({ event, account }) => {
  const octets = new Uint8Array(await octetsFor(event, account.id, BOUNDS))
  const full = await noMoreSites(account.id)
  if (full) throw createError({ statusCode: 422, message: full })
  const outcome = await inThread(
    'open',
    { octets, accountId: account.id },
    { accountId: account.id, maxMs: WORK_MS, transfer: [octets.buffer as ArrayBuffer] },
  ).catch((error: unknown) => {
    if (error instanceof TooLong)
      throw createError({
        statusCode: 422,
        message: 'this plan takes too long to read; take parts of it out',
      })
    throw error
  })
  if (!outcome.ok)
    throw createError({
      statusCode: outcome.status,
      message: outcome.message,
      ...(outcome.problems ? { data: { problems: outcome.problems } } : {}),
    })
  return { id: outcome.id, revision: outcome.revision }
})
