import { readClientHours } from '@mast/api'
import { route } from '../../../http/route'
import { clientHoursOf } from '../../../nightly/clientHours'

export default route(readClientHours, ({ site }) => clientHoursOf(site.id))
