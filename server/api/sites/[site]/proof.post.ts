import { z } from 'zod'
import { siteRoute } from '../../../http/handlers'
import { runProof } from '../../../proof/run'

/** Runs the proof on the stand-ins, whole or some tests of it again. */
export default siteRoute(
  'installer',
  z.strictObject({ only: z.array(z.string().max(160)).max(100_000).nullable() }),
  async ({ site, account, body }) => ({ proof: await runProof(site.id, account.id, body.only) }),
)
