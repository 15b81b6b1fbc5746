import { runProof } from '@mast/api'
import { route } from '../../../http/route'
import { prove } from '../../../proof/run'

export default route(runProof, async ({ site, account, body }) => ({
  proof: await prove(site.id, account.id, body.only),
}))
