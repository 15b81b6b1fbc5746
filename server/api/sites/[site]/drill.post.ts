import { runDrill } from '@mast/api'
import { tryFailover } from '../../../drills/run'
import { route } from '../../../http/route'

export default route(runDrill, async ({ site, account, body }) => ({
  drill: await tryFailover(site.id, account.id, body),
}))
