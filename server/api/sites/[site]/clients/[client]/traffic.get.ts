import { readClientTraffic } from '@mast/api'
import { spansOf } from '../../../../../clients/clients'
import { route } from '../../../../../http/route'

export default route(readClientTraffic, async ({ site, params }) => ({
  spans: await spansOf(site.id, params.client),
}))
