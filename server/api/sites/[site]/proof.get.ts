import { siteRoute } from '../../../http/handlers'
import { latestProof } from '../../../proof/run'

/** The last proof, or null. */
export default siteRoute('viewer', undefined, async ({ site }) => ({
  proof: (await latestProof(site.id)) ?? null,
}))
