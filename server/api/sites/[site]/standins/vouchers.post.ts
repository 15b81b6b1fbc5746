import { askStandinsMaker } from '@mast/api'
import { vouchedFor } from '../../../../standins/asked'
import { route } from '../../../../http/route'

export default route(askStandinsMaker, ({ site, account }) => vouchedFor(site.id, account.id))
