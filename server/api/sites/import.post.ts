import { bringInSite } from '@mast/api'
import { octetsRoute } from '../../http/route'
import { bringInFrom } from '../../sites/open'

export default octetsRoute(
  bringInSite,
  { maxBytes: 64 * 1024 * 1024, maxMs: 120_000 },
  ({ account, octets }) => bringInFrom(octets, account.id),
)
