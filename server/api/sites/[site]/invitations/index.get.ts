import { readInvitations } from '@mast/api'
import { route } from '../../../../http/route'
import { openInvitations } from '../../../../members/invitations'

export default route(readInvitations, ({ site }) => openInvitations(site.id))
