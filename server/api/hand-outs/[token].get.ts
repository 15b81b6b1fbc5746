import { readHandOut } from '@mast/api'
import { addressOf } from '../../http/clientAddress'
import { route } from '../../http/route'
import { lookAtHandOut } from '../../tunnels/handOuts'

export default route(readHandOut, ({ event, params }) =>
  lookAtHandOut(params.token, addressOf(event)),
)
