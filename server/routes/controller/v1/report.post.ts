import { reportSchema } from '@mast/protocol'
import { takeReport } from '../../../adoption/controller'
import { bearer, deviceRoute } from '../../../http/deviceRoute'

export default deviceRoute(reportSchema, ({ event, body }) => takeReport(bearer(event), body))
