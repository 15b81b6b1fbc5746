import { setFault } from '@mast/api'
import { route } from '../../../../http/route'
import { turnFault } from '../../../../standins/asked'

export default route(setFault, async ({ site, account, body }) => ({
  text: await turnFault(site.id, body.fault, body.on, account.id),
}))
