/** Who works on a site, and who is asked to. */
import { z } from 'zod'
import { accountName, newPassword } from './account'
import { endpoint } from './endpoint'
import { moment, name, nothing, role } from './values'

const member = z.object({ accountId: z.string(), name: z.string(), role })
export type Member = z.infer<typeof member>
/** Who works on the site, and who asks. */
export const readMembers = endpoint({
  method: 'GET',
  path: '/api/sites/:site/members',
  access: 'viewer',
  reply: z.object({ members: z.array(member), you: z.string() }),
})
export const changeRole = endpoint({
  method: 'PUT',
  path: '/api/sites/:site/members/:account',
  access: 'owner',
  params: { account: z.uuid() },
  body: z.strictObject({ role }),
  reply: nothing,
})
/** Takes a member off the site. Owners may do it to anybody, everybody to themselves. */
export const removeMember = endpoint({
  method: 'DELETE',
  path: '/api/sites/:site/members/:account',
  access: 'viewer',
  params: { account: z.uuid() },
  reply: nothing,
})

const openInvitation = z.object({
  id: z.string(),
  role,
  note: z.string(),
  by: z.string(),
  expiresAt: moment,
})
export type OpenInvitation = z.infer<typeof openInvitation>
/** Invitations that nobody has used yet. */
export const readInvitations = endpoint({
  method: 'GET',
  path: '/api/sites/:site/invitations',
  access: 'owner',
  reply: z.array(openInvitation),
})
/** Makes an invitation. Its token is in this answer and nowhere else. */
export const invite = endpoint({
  method: 'POST',
  path: '/api/sites/:site/invitations',
  access: 'owner',
  body: z.strictObject({ role, note: z.string().trim().max(80).default('') }),
  reply: z.object({ token: z.string() }),
})
export const withdrawInvitation = endpoint({
  method: 'DELETE',
  path: '/api/sites/:site/invitations/:id',
  access: 'owner',
  params: { id: z.uuid() },
  reply: nothing,
})
/** What an invitation is for. */
export const readInvitation = endpoint({
  method: 'GET',
  path: '/api/invitations/:token',
  access: 'anybody',
  params: { token: name },
  reply: z.object({ site: z.string(), role, note: z.string() }),
})
/** Who is signed in joins; who is not makes an account first. */
export const acceptInvitation = endpoint({
  method: 'POST',
  path: '/api/invitations/:token',
  access: 'anybody',
  params: { token: name },
  body: z.strictObject({
    newAccount: z.strictObject({ name: accountName, password: newPassword }).nullable(),
  }),
  reply: z.object({ siteId: z.string() }),
})
