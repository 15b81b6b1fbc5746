import { untickStep } from '@mast/api'
import { route } from '../../../../../http/route'
import { untick } from '../../../../../steps/steps'

export default route(untickStep, async ({ params, site, account }) => {
  await untick(site.id, params.step, account.id)
  return {}
})
