import { eq, sql } from 'drizzle-orm'
import { createError } from 'h3'
import { z } from 'zod'
import { nameSchema, newPasswordSchema } from '../../accounts/credentials'
import { hashPassword } from '../../accounts/passwords'
import { accountOf, openSession } from '../../accounts/sessions'
import { countLook } from '../../accounts/tries'
import { db, inTransaction } from '../../db/database'
import { accounts } from '../../db/schema'
import { openRoute, param } from '../../http/handlers'
import { accept, invitationOf } from '../../members/invitations'

const usedUp = (): Error =>
  createError({
    statusCode: 404,
    message: 'this invitation is used up, withdrawn or too old; ask for a new one',
  })

/** Who is signed in joins; who is not makes an account first. */
export default openRoute(
  z.strictObject({
    newAccount: z.strictObject({ name: nameSchema, password: newPasswordSchema }).nullable(),
  }),
  async ({ event, body }) => {
    const signedIn = await accountOf(event)
    if (!signedIn && !body.newAccount)
      throw createError({ statusCode: 401, message: 'sign in first, or make an account' })
    // Hashing is slow by intent; an invitation that is none does not get that far.
    if (!(await invitationOf(db(), param(event, 'token')))) {
      await countLook(event)
      throw usedUp()
    }
    const passwordHash =
      body.newAccount && !signedIn ? await hashPassword(body.newAccount.password) : undefined
    const { siteId, madeId } = await inTransaction(async (tx) => {
      const invitation = await invitationOf(tx, param(event, 'token'))
      if (!invitation) throw usedUp()
      let accountId = signedIn?.id
      if (!accountId) {
        const { name } = body.newAccount!
        const [taken] = await tx
          .select({ id: accounts.id })
          .from(accounts)
          .where(eq(sql`lower(${accounts.name})`, name.toLowerCase()))
        if (taken)
          throw createError({
            statusCode: 422,
            message: 'this name is taken; sign in with it, or choose another',
          })
        const [made] = await tx
          .insert(accounts)
          .values({ name, passwordHash: passwordHash! })
          .returning({ id: accounts.id })
        accountId = made!.id
      }
      if (!(await accept(tx, invitation, accountId)))
        throw createError({
          statusCode: 404,
          message: 'this invitation was just used; ask for a new one',
        })
      return { siteId: invitation.siteId, madeId: signedIn ? null : accountId }
    })
    if (madeId) await openSession(event, madeId)
    return { siteId }
  },
)
