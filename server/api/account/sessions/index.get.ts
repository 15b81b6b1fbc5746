import { readSessions } from '@mast/api'
import { sessionsOf } from '../../../accounts/sessions'
import { route } from '../../../http/route'

export default route(readSessions, ({ account }) => sessionsOf(account))
