import { helloSchema } from '@mast/protocol'
import { hello } from '../../../adoption/controller'
import { openDeviceRoute } from '../../../http/deviceRoute'

export default openDeviceRoute(helloSchema, hello)
