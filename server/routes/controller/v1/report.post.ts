import { reportSchema } from '@mast/protocol'
import { settleReport } from '../../../adoption/controller'
import { reporter, takeReport } from '../../../adoption/reports'
import { deviceRoute } from '../../../http/deviceRoute'

export default deviceRoute(reporter, reportSchema, ({ who, body }) =>
  takeReport(who, body, settleReport),
)
