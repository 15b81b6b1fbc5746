import { commandDevice } from '@mast/api'
import { command } from '../../../../../adoption/claims'
import { route } from '../../../../../http/route'

export default route(commandDevice, async ({ site, account, params, body }) => {
  await command(site.id, params.device, body.command, account.id)
  return {}
})
