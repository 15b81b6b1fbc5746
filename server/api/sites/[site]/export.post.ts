import { createError, setResponseHeader } from 'h3'
import { z } from 'zod'
import { siteIsGone } from '../../../http/gone'
import { siteRoute } from '../../../http/handlers'
import { MIN_PASSPHRASE } from '../../../vault/passphrase'
import { inThread, TooLong } from '../../../work/workers'

const passphrase = z
  .string()
  .min(MIN_PASSPHRASE, `a passphrase has at least ${MIN_PASSPHRASE} characters`)
  .max(200)
const WORK_MS = 120_000

/** The site as one file; with a passphrase, its secrets are in it, sealed. */
export default siteRoute(
  'owner',
  z.strictObject({ passphrase: passphrase.nullable() }),
  async ({ event, site, account, body }) => {
    const file = await inThread(
      'takeOut',
      { siteId: site.id, passphrase: body.passphrase, accountId: account.id },
      { accountId: account.id, maxMs: WORK_MS },
    ).catch((error: unknown) => {
      if (error instanceof TooLong)
        throw createError({
          statusCode: 503,
          message: 'the site takes too long to write out; try again when less is going on',
        })
      throw error
    })
    if (!file) throw siteIsGone()
    setResponseHeader(event, 'content-type', 'application/json')
    setResponseHeader(event, 'content-disposition', `attachment; filename="${site.id}.site.json"`)
    return Buffer.from(file)
  },
)
