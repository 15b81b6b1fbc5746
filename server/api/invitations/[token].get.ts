import { createError } from 'h3'
import { countLook } from '../../accounts/tries'
import { db } from '../../db/database'
import { openRoute, param } from '../../http/handlers'
import { invitationOf } from '../../members/invitations'

/** What an invitation is for. */
export default openRoute(undefined, async ({ event }) => {
  const found = await invitationOf(db(), param(event, 'token'))
  if (!found) {
    await countLook(event)
    throw createError({
      statusCode: 404,
      message: 'this invitation is used up, withdrawn or too old; ask for a new one',
    })
  }
  const { site, role, note } = found
  return { site, role, note }
})
