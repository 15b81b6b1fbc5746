import { forgetVoucher } from '@mast/api'
import { forgetVoucher as forget } from '../../../../../bootstrap/fromMakers'
import { route } from '../../../../../http/route'

export default route(forgetVoucher, async ({ site, account, params }) => {
  await forget(site.id, params.serial, account.id)
  return {}
})
