import { tokenRequestSchema } from '@mast/protocol'
import { issueToken } from '../../../adoption/controller'
import { openDeviceRoute } from '../../../http/deviceRoute'

export default openDeviceRoute(tokenRequestSchema, async ({ serial, claimSecret }) => ({
  token: await issueToken(serial, claimSecret),
}))
