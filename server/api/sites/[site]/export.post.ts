import { setResponseHeader } from 'h3'
import { z } from 'zod'
import { siteRoute } from '../../../http/handlers'
import { exportSite } from '../../../portable/transfer'
import { MIN_PASSPHRASE } from '../../../vault/passphrase'

const passphrase = z.string().min(MIN_PASSPHRASE, `a passphrase has at least ${MIN_PASSPHRASE} characters`).max(200)

/** The site as one file; with a passphrase, its secrets are in it, sealed. */
export default siteRoute('owner', z.strictObject({ passphrase: passphrase.nullable() }), async ({ event, site, account, body }) => {
  setResponseHeader(event, 'cache-control', 'no-store')
  setResponseHeader(event, 'content-disposition', `attachment; filename="${site.id}.site.json"`)
  return exportSite(site.id, body.passphrase, account.id)
})
