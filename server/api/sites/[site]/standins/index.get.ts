import { readStandins } from '@mast/api'
import { route } from '../../../../http/route'
import { look } from '../../../../standins/client'

export default route(readStandins, async ({ site }) => ({ standins: await look(site.id) }))
