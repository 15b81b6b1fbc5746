import { takeOver } from '@mast/api'
import { takenOver } from '../../../../../adoption/running'
import { route } from '../../../../../http/route'

export default route(takeOver, ({ site, params, body }) =>
  takenOver(site.id, params.device, body.paths),
)
