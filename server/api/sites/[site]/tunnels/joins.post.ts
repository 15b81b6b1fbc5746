import { joinByTunnels } from '@mast/api'
import { route } from '../../../../http/route'
import { joinSitesOf } from '../../../../tunnels/joins'

export default route(joinByTunnels, ({ site, account, body }) =>
  joinSitesOf(site, body.others, body.shape, account.id),
)
