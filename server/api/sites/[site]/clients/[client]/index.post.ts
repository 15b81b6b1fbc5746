import { changeClient } from '@mast/api'
import { changeClient as change } from '../../../../../clients/clients'
import { route } from '../../../../../http/route'

export default route(changeClient, async ({ site, params, body }) => {
  await change(site.id, params.client, body)
  return {}
})
