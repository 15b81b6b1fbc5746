import { readConfiguration } from '@mast/api'
import { setResponseHeader } from 'h3'
import { preparedFor } from '../../../../../adoption/prepared'
import { route } from '../../../../../http/route'

export default route(readConfiguration, async ({ event, site, account, params }) => {
  const document = await preparedFor(site.id, params.device, account.id)
  setResponseHeader(
    event,
    'content-disposition',
    `attachment; filename="${params.device.replace(/[^a-z0-9-]/g, '-')}.json"`,
  )
  return document
})
