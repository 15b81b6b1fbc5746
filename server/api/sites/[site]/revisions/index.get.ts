import { readHistory } from '@mast/api'
import { route } from '../../../../http/route'
import { historyOf } from '../../../../sites/revisions'

const MOST = 100

export default route(readHistory, ({ site, query }) => historyOf(site.id, MOST, query.before))
