import { claimDevices } from '@mast/api'
import { claimAll } from '../../../adoption/claims'
import { route } from '../../../http/route'
import { sendFirst } from '../../../releases/asked'

export default route(claimDevices, async ({ site, role, account, body }) => {
  const outcome = await claimAll(site.id, body.claims, account.id)
  return {
    ...outcome,
    notSent: outcome.claimed.length > 0 ? await sendFirst(site.id, account.id, role) : null,
  }
})
