import { readProof } from '@mast/api'
import { route } from '../../../http/route'
import { latestProof } from '../../../proof/run'

export default route(readProof, async ({ site }) => ({
  proof: (await latestProof(site.id)) ?? null,
}))
