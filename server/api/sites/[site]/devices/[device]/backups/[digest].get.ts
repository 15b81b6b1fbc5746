import { readBackup } from '@mast/api'
import { setResponseHeader } from 'h3'
import { backupFor } from '../../../../../../backups/backups'
import { route } from '../../../../../../http/route'

export default route(readBackup, async ({ event, site, account, params }) => {
  const document = await backupFor(site.id, params.device, params.digest, account.id)
  setResponseHeader(
    event,
    'content-disposition',
    `attachment; filename="${params.device.replace(/[^a-z0-9-]/g, '-')}-${params.digest.slice(0, 12)}.json"`,
  )
  return document
})
