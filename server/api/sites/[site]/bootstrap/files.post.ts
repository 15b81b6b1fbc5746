import { takeMakersFiles } from '@mast/api'
import { takeIn } from '../../../../bootstrap/fromMakers'
import { route } from '../../../../http/route'

export default route(takeMakersFiles, async ({ site, account, body }) =>
  takeIn(
    site.id,
    body.files.map((f) => ({
      name: f.name,
      content: new Uint8Array(Buffer.from(f.content, 'base64')),
    })),
    account.id,
  ),
)
