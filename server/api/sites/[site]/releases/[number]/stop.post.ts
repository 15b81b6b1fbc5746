import { stopRelease } from '@mast/api'
import { route } from '../../../../../http/route'
import { stop } from '../../../../../releases/waves'

export default route(stopRelease, async ({ params, site, account }) => {
  await stop(site.id, params.number, account.id)
  return {}
})
