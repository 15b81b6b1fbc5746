import { openHandOut } from '@mast/api'
import { addressOf } from '../../http/clientAddress'
import { route } from '../../http/route'
import { openOnce } from '../../tunnels/handOuts'

export default route(openHandOut, ({ event, params }) => openOnce(params.token, addressOf(event)))
