import { MAX_RUNNING_BYTES, runningSchema } from '@mast/protocol'
import { reporter } from '../../../adoption/reports'
import { keepRunning } from '../../../adoption/running'
import { deviceRoute } from '../../../http/deviceRoute'

export default deviceRoute(
  reporter,
  runningSchema,
  ({ who, body }) => keepRunning(who, body),
  MAX_RUNNING_BYTES,
)
