/** Who is signed in. Without a network, who was when there was one: what can be seen then is only what this browser keeps. */
import { forgetAll } from '~/offline/browserStore'

interface Reply { account: { name: string } | null; needsSetup: boolean }
const KEPT = 'mast-account'

export const useSession = defineStore('session', () => {
  const account = ref<{ name: string } | null>(null)
  const needsSetup = ref(false)
  const known = ref(false)
  /** Whether the server was away when it was asked. */
  const away = ref(false)

  function take(reply: Reply): void {
    account.value = reply.account
    needsSetup.value = reply.needsSetup
    known.value = true
    away.value = false
    if (reply.account) localStorage.setItem(KEPT, reply.account.name)
  }
  async function refresh(): Promise<void> {
    try {
      take(await ask<Reply>('/api/session', { timeoutMs: READ_TIMEOUT_MS }))
    } catch (error) {
      if ((error as { status?: number }).status !== undefined) throw error
      const name = localStorage.getItem(KEPT)
      account.value = name ? { name } : null
      known.value = true
      away.value = true
    }
  }
  async function enter(kind: 'setup' | 'session', name: string, password: string): Promise<void> {
    const before = localStorage.getItem(KEPT)
    const reply = await ask<{ account: { name: string } }>(`/api/${kind}`, { method: 'POST', body: { name, password } })
    // What another account left on this device is not for this one.
    if (before !== null && before !== reply.account.name) await forgetAll().catch(() => {})
    take({ account: reply.account, needsSetup: false })
  }
  /** Signs out and forgets what this browser kept. */
  async function leave(): Promise<void> {
    await ask('/api/session', { method: 'DELETE' })
    localStorage.removeItem(KEPT)
    await forgetAll().catch(() => {})
    account.value = null
  }
  return { account, needsSetup, known, away, refresh, enter, leave, take }
})
