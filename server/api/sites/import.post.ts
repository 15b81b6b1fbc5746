import { createError } from 'h3'
import { octetsFor, signedInRoute } from '../../http/handlers'
import { noMoreSites } from '../../sites/limits'
import { Shares } from '../../work/queue'
import { inThread, TooLong } from '../../work/workers'

const BOUNDS = { maxBytes: 64 * 1024 * 1024, maxMs: 120_000 }
const WORK_MS = 120_000
/** Files are large; each account brings in one at a time. */
const imports = new Shares('site files of one account', 1)

/** A site out of a file, as a new site of whoever brings it: `{ file, passphrase }`. */
export default signedInRoute(undefined, async ({ event, account }) => {
  const leave = imports.take(account.id)
  try {
    const full = await noMoreSites(account.id)
    if (full) throw createError({ statusCode: 422, message: full })
    const octets = new Uint8Array(await octetsFor(event, account.id, BOUNDS))
    const outcome = await inThread(
      'bringIn',
      { octets, accountId: account.id },
      { accountId: account.id, maxMs: WORK_MS, transfer: [octets.buffer as ArrayBuffer] },
    )
    if (!outcome.ok) throw createError({ statusCode: 422, message: outcome.reason })
    return { id: outcome.id, revision: outcome.revision }
  } catch (error) {
    if (error instanceof TooLong)
      throw createError({
        statusCode: 422,
        message:
          'this file takes too long to read; bring the site in as a plan document, without its history',
      })
    throw error
  } finally {
    leave()
  }
})
