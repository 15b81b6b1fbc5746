import { readEvidence } from '@mast/api'
import { evidenceOf } from '../../../../evidence/evidence'
import { route } from '../../../../http/route'

export default route(readEvidence, ({ site }) => evidenceOf(site.id))
