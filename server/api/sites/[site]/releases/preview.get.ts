import { previewRelease } from '@mast/api'
import { senderOf } from '../../../../http/sender'
import { route } from '../../../../http/route'
import { preview } from '../../../../releases/asked'

export default route(previewRelease, ({ event, site, account, query }) =>
  preview(site.id, account.id, query.revision ?? site.head, senderOf(event)),
)
