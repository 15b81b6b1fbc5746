import { claimDevice } from '@mast/api'
import { claim } from '../../../../../adoption/claims'
import { route } from '../../../../../http/route'
import { sendFirst } from '../../../../../releases/asked'

export default route(claimDevice, async ({ site, role, account, params, body }) => {
  await claim(site.id, params.device, body.serial, account.id)
  return { notSent: await sendFirst(site.id, account.id, role) }
})
