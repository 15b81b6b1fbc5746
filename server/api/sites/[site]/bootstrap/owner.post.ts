import { makeOwner } from '@mast/api'
import { firstOwner } from '../../../../bootstrap/owner'
import { route } from '../../../../http/route'

export default route(makeOwner, async ({ site, account }) => {
  await firstOwner(site, account.id)
  return {}
})
