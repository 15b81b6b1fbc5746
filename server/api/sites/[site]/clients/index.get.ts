import { readClients } from '@mast/api'
import { clientsOf } from '../../../../clients/clients'
import { route } from '../../../../http/route'

export default route(readClients, async ({ site }) => ({
  clients: await clientsOf(site.id, site.timeZone ?? 'UTC'),
}))
