import { tickStep } from '@mast/api'
import { route } from '../../../../../http/route'
import { carryOut, tick } from '../../../../../steps/steps'

export default route(tickStep, async ({ params, site, account, body }) => {
  await (body.by === 'standins' ? carryOut : tick)(site.id, params.step, account.id, body)
  return {}
})
