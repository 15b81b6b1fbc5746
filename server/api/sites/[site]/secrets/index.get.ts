import { readSecrets } from '@mast/api'
import { route } from '../../../../http/route'
import { secretNames } from '../../../../vault/shown'

export default route(readSecrets, ({ site }) => secretNames(site.id))
