import { readDifference } from '@mast/api'
import { differenceOf } from '../../../../../adoption/running'
import { route } from '../../../../../http/route'

export default route(readDifference, ({ site, params }) => differenceOf(site.id, params.device))
