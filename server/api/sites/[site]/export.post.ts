import { takeOutSite } from '@mast/api'
import { setResponseHeader } from 'h3'
import { route } from '../../../http/route'
import { takeOut } from '../../../sites/open'

export default route(takeOutSite, async ({ event, site, account, body }) => {
  const file = await takeOut(site.id, body.passphrase, account.id)
  setResponseHeader(event, 'content-type', 'application/json')
  setResponseHeader(event, 'content-disposition', `attachment; filename="${site.id}.site.json"`)
  // Written as JSON already, in a thread.
  return Buffer.from(file) as never
})
