import { setSpeed } from '@mast/api'
import { route } from '../../../../http/route'
import { runAt } from '../../../../standins/client'

export default route(setSpeed, async ({ site, body }) => ({
  standins: await runAt(site.id, body.speed),
}))
