import { keepEvidence } from '@mast/api'
import { keep, MOST_BODY_OCTETS } from '../../../../evidence/evidence'
import { route } from '../../../../http/route'

export default route(
  keepEvidence,
  async ({ site, account, body }) => {
    await keep(site.id, site.head, account.id, body)
    return {}
  },
  { maxBytes: MOST_BODY_OCTETS },
)
