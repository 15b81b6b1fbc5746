import { readHandOuts } from '@mast/api'
import { route } from '../../../../http/route'
import { handedOut } from '../../../../tunnels/handOuts'

export default route(readHandOuts, ({ site }) => handedOut(site.id))
