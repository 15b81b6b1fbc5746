import { readLog } from '@mast/api'
import { route } from '../../../http/route'
import { trailOf } from '../../../sites/trail'

export default route(readLog, ({ site }) => trailOf(site.id))
