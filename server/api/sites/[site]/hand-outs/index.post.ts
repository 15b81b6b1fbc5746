import { handOutPeer } from '@mast/api'
import { route } from '../../../../http/route'
import { handOut } from '../../../../tunnels/handOuts'

export default route(handOutPeer, ({ site, account, body }) =>
  handOut(site, body.peerId, body.hours, account.id),
)
