import { setSecret } from '@mast/api'
import { route } from '../../../../http/route'
import { replaceSecret } from '../../../../vault/shown'

export default route(setSecret, async ({ params, site, account, body }) => {
  await replaceSecret(site.id, params.ref, body.secret, account.id)
  return {}
})
