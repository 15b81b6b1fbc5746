import { giveUpDevice } from '@mast/api'
import { giveUpByHand } from '../../../../../adoption/claims'
import { route } from '../../../../../http/route'

export default route(giveUpDevice, async ({ site, account, params }) => {
  await giveUpByHand(site.id, params.device, account.id)
  return {}
})
