/** Who is signed in, and their sessions. */
import { z } from 'zod'
import { endpoint } from './endpoint'
import { moment, nothing } from './values'

export const accountName = z.string().trim().min(2, 'a name has at least 2 characters').max(60)
/** Length is what counts (NIST SP 800-63B 5.1.1): no rules about kinds of characters. */
export const newPassword = z.string().min(10, 'a password has at least 10 characters').max(200)
const oldPassword = z.string().min(1).max(200)
const account = z.object({ name: z.string() })

/** Who is signed in, and whether the first account is still to be made. */
export const readSession = endpoint({
  method: 'GET',
  path: '/api/session',
  access: 'anybody',
  reply: z.object({ account: account.nullable(), needsSetup: z.boolean() }),
})
export const signIn = endpoint({
  method: 'POST',
  path: '/api/session',
  access: 'anybody',
  body: z.strictObject({ name: accountName, password: oldPassword }),
  reply: z.object({ account }),
})
export const signOut = endpoint({
  method: 'DELETE',
  path: '/api/session',
  access: 'anybody',
  reply: nothing,
})
/** Makes the first account. Closed for ever once there is one. */
export const setUp = endpoint({
  method: 'POST',
  path: '/api/setup',
  access: 'anybody',
  body: z.strictObject({ name: accountName, password: newPassword }),
  reply: z.object({ account }),
})
/** Changes the password; whoever is signed in elsewhere with the old one is signed out. */
export const changePassword = endpoint({
  method: 'PUT',
  path: '/api/account/password',
  access: 'account',
  body: z.strictObject({ current: oldPassword, next: newPassword }),
  reply: nothing,
})

const session = z.object({
  id: z.string(),
  /** The browser, as it named itself. */
  agent: z.string(),
  createdAt: moment,
  lastSeenAt: moment,
  isThis: z.boolean(),
})
export type Session = z.infer<typeof session>
/** The sessions of the account, the last used first. */
export const readSessions = endpoint({
  method: 'GET',
  path: '/api/account/sessions',
  access: 'account',
  reply: z.array(session),
})
export const endSession = endpoint({
  method: 'DELETE',
  path: '/api/account/sessions/:id',
  access: 'account',
  params: { id: z.uuid() },
  reply: nothing,
})
/** Ends every session of the account but this one. */
export const endOtherSessions = endpoint({
  method: 'DELETE',
  path: '/api/account/sessions',
  access: 'account',
  reply: z.object({ ended: z.number() }),
})
