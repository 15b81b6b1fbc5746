/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const account = ref<{ name: string } | null>(null)
  const needsSetup = ref(false)
  const known = ref(false)

  async function refresh(): Promise<void> {
    const reply = await $fetch<{ account: { name: string } | null; needsSetup: boolean }>('/api/session')
    account.value = reply.account
    needsSetup.value = reply.needsSetup
    known.value = true
  }
  async function enter(kind: 'setup' | 'session', name: string, password: string): Promise<void> {
    const reply = await $fetch<{ account: { name: string } }>(`/api/${kind}`, { method: 'POST', body: { name, password } })
    account.value = reply.account
    needsSetup.value = false
  }
  async function leave(): Promise<void> {
    await $fetch('/api/session', { method: 'DELETE' })
    account.value = null
  }
  return { account, needsSetup, known, refresh, enter, leave }
})
