/** The cookie that says who asks. */
import { deleteCookie, getCookie, getRequestHeader, setCookie, type H3Event } from 'h3'
import { accountByToken, closeSession, openSession, type Account } from '../accounts/sessions'
import { isSecure } from './secure'

/**
 * Over TLS by a name that browsers take from this host alone, for all of it, and only over TLS (RFC
 * 6265bis 4.1.3.2).
 */
const cookieName = (event: H3Event): string =>
  isSecure(event) ? '__Host-mast_session' : 'mast_session'

export async function accountOf(event: H3Event): Promise<Account | undefined> {
  const token = getCookie(event, cookieName(event))
  return token ? accountByToken(token) : undefined
}

export async function beginSession(event: H3Event, accountId: string): Promise<void> {
  const agent = getRequestHeader(event, 'user-agent') ?? ''
  const { token, expiresAt } = await openSession(accountId, agent)
  setCookie(event, cookieName(event), token, {
    httpOnly: true,
    sameSite: 'strict',
    path: '/',
    secure: isSecure(event),
    expires: expiresAt,
  })
}

export async function endThisSession(event: H3Event): Promise<void> {
  const account = await accountOf(event)
  if (account) await closeSession(account)
  deleteCookie(event, cookieName(event), { path: '/', secure: isSecure(event) })
}
