import { removeSite } from '@mast/api'
import { route } from '../../../http/route'
import { remove } from '../../../sites/create'
import { drop } from '../../../standins/client'

export default route(removeSite, async ({ site, account }) => {
  await drop(site.id).catch(() => {})
  await remove(site.id, account.id)
  return {}
})
