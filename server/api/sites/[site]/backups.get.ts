import { readBackups } from '@mast/api'
import { backupsOf } from '../../../backups/backups'
import { route } from '../../../http/route'

export default route(readBackups, async ({ site }) => ({ backups: await backupsOf(site.id) }))
