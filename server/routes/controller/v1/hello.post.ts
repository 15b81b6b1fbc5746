import { helloSchema } from '@mast/protocol'
import { hello } from '../../../adoption/controller'
import { deviceRoute } from '../../../http/deviceRoute'

export default deviceRoute(helloSchema, ({ body }) => hello(body))
