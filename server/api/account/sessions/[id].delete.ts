import { createError } from 'h3'
import { z } from 'zod'
import { endSession } from '../../../accounts/sessions'
import { validated } from '../../../http/body'
import { param, signedInRoute } from '../../../http/handlers'

/** Ends one session of the account. */
export default signedInRoute(undefined, async ({ event, account }) => {
  const id = validated(z.uuid(), param(event, 'id'))
  if (!(await endSession(account, id)))
    throw createError({
      statusCode: 404,
      message: 'there is no such session; it may have ended already',
    })
  return {}
})
