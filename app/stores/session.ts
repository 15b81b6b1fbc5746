/**
 * Who is signed in. Without a network, who was when there was one: what can be seen then is only
 * what this browser keeps.
 */
import { readSession, setUp, signIn, signOut, type Reply } from '@mast/api'
import { forgetAll, unsentCount } from '~/offline/browserStore'

const KEPT = 'mast-account'

export const useSession = defineStore('session', () => {
  const account = ref<{ name: string } | null>(null)
  const needsSetup = ref(false)
  const known = ref(false)
  /** Whether the server was away when it was asked. */
  const away = ref(false)

  async function take(reply: Reply<typeof readSession>): Promise<void> {
    const before = localStorage.getItem(KEPT)
    // What another account left on this device is not for this one.
    if (reply.account && before !== null && before !== reply.account.name)
      await forgetAll().catch(() => {})
    account.value = reply.account
    needsSetup.value = reply.needsSetup
    known.value = true
    away.value = false
    if (reply.account) localStorage.setItem(KEPT, reply.account.name)
  }
  async function refresh(): Promise<void> {
    try {
      await take(await ask(readSession, {}, { timeoutMs: READ_TIMEOUT_MS }))
    } catch (error) {
      if ((error as { status?: number }).status !== undefined) throw error
      const name = localStorage.getItem(KEPT)
      account.value = name ? { name } : null
      known.value = true
      away.value = true
    }
  }
  /**
   * What somebody else did on this device that did not reach the server; it goes when this name
   * enters.
   */
  async function leftBehind(name: string): Promise<{ name: string; count: number } | null> {
    const before = localStorage.getItem(KEPT)
    if (before === null || before.toLowerCase() === name.trim().toLowerCase()) return null
    const count = await unsentCount().catch(() => 0)
    return count > 0 ? { name: before, count } : null
  }
  async function enter(kind: 'setup' | 'session', name: string, password: string): Promise<void> {
    const reply = await ask(kind === 'setup' ? setUp : signIn, { body: { name, password } })
    await take({ account: reply.account, needsSetup: false })
  }
  // Where another window of this browser enters as somebody else, what this one shows and sends is
  // no longer its own.
  if (import.meta.client)
    window.addEventListener('storage', (e) => {
      if (
        e.key === KEPT &&
        e.newValue !== null &&
        account.value &&
        e.newValue !== account.value.name
      )
        location.reload()
    })
  /** Signs out and forgets what this browser kept. */
  async function leave(): Promise<void> {
    await ask(signOut, {})
    localStorage.removeItem(KEPT)
    await forgetAll().catch(() => {})
    account.value = null
  }
  return { account, needsSetup, known, away, refresh, leftBehind, enter, leave }
})
