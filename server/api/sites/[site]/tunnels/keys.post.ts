import { makeTunnelKey } from '@mast/api'
import { route } from '../../../../http/route'
import { makeKey } from '../../../../tunnels/keys'

export default route(makeTunnelKey, ({ site, account, body }) =>
  makeKey(site, body.of, body.id, account.id),
)
