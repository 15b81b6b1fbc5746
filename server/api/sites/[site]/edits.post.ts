import { saveChanges } from '@mast/api'
import { route } from '../../../http/route'
import { soon } from '../../../http/soon'
import { save } from '../../../sites/revisions'

/** A plan as large as they come, brought back to an earlier one. */
const MAX_BODY_BYTES = 5 * 1024 * 1024
/** More at once are no single step of a person, and take the time that they take. */
const FEW_CHANGES = 5

export default route(
  saveChanges,
  ({ site, account, body }) => {
    const saving = save(site.id, body, account.id)
    // Whoever is told to come again may find it saved: a change has an id and is saved once.
    return body.changes.length > FEW_CHANGES ? saving : soon(saving)
  },
  { maxBytes: MAX_BODY_BYTES },
)
