import { readSites } from '@mast/api'
import { route } from '../http/route'
import { drawerOf } from '../sites/drawer'

export default route(readSites, ({ account }) => drawerOf(account.id))
