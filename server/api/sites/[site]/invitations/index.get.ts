import { siteRoute } from '../../../../http/handlers'
import { openInvitations } from '../../../../members/invitations'

/** Invitations that nobody has used yet. */
export default siteRoute('owner', undefined, ({ site }) => openInvitations(site.id))
