import { tokenRequestSchema } from '@mast/protocol'
import { issueToken } from '../../../adoption/controller'
import { deviceRoute } from '../../../http/deviceRoute'

export default deviceRoute(tokenRequestSchema, async ({ body }) => ({ token: await issueToken(body.serial, body.claimSecret) }))
