import { reportSchema } from '@mast/protocol'
import { settleReport } from '../../../adoption/controller'
import { takeReport } from '../../../adoption/reports'
import { bearer, deviceRoute } from '../../../http/deviceRoute'

export default deviceRoute(reportSchema, ({ event, body }) => takeReport(bearer(event), body, settleReport))
