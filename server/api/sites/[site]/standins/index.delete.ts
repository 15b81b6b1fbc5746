import { putStandinsBack } from '@mast/api'
import { route } from '../../../../http/route'
import { putBack } from '../../../../standins/asked'

export default route(putStandinsBack, async ({ site, account }) => {
  await putBack(site.id, account.id)
  return {}
})
