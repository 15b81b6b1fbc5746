import { forgetMaker } from '@mast/api'
import { forgetMaker as forget } from '../../../../../bootstrap/fromMakers'
import { route } from '../../../../../http/route'

export default route(forgetMaker, async ({ site, account, params }) => {
  await forget(site.id, params.digest, account.id)
  return {}
})
