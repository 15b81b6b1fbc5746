import { readRoll } from '@mast/api'
import { rollOf } from '../../../../adoption/devices'
import { route } from '../../../../http/route'

export default route(readRoll, ({ site }) => rollOf(site.id))
