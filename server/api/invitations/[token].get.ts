import { createError } from 'h3'
import { countTry } from '../../accounts/tries'
import { db } from '../../db/database'
import { openRoute, param } from '../../http/handlers'
import { invitationOf } from '../../members/invitations'

/** What an invitation is for. */
export default openRoute(undefined, async ({ event }) => {
  const tries = await countTry(event, 'invitation')
  const found = await invitationOf(db(), param(event, 'token'))
  if (!found) throw createError({ statusCode: 404, message: 'this invitation is used up, withdrawn or too old; ask for a new one' })
  await tries.forget()
  const { site, role, note } = found
  return { site, role, note }
})
