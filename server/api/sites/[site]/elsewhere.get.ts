import { readElsewhere } from '@mast/api'
import { route } from '../../../http/route'
import { overlapsElsewhere, twinsElsewhere } from '../../../sites/elsewhere'

export default route(readElsewhere, async ({ site, account }) => ({
  overlaps: await overlapsElsewhere(site.id, account.id),
  twins: await twinsElsewhere(site.id, account.id),
}))
