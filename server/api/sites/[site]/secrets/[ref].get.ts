import { readSecret } from '@mast/api'
import { route } from '../../../../http/route'
import { showSecret } from '../../../../vault/shown'

export default route(readSecret, async ({ params, site, account }) => ({
  secret: await showSecret(site.id, params.ref, account.id),
}))
