import { readRoll } from '@mast/api'
import { rollOf } from '../../../../adoption/devices'
import { route } from '../../../../http/route'

export default route(readRoll, ({ site, query }) =>
  rollOf(site.id, query.only === undefined ? null : new Set(query.only.split(','))),
)
