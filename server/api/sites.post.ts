import { openSite } from '@mast/api'
import { octetsRoute } from '../http/route'
import { openFrom } from '../sites/open'

export default octetsRoute(
  openSite,
  { maxBytes: 8 * 1024 * 1024, maxMs: 30_000 },
  async ({ account, octets }) => openFrom(await octets(), account.id),
)
