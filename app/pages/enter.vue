<script setup lang="ts">
const session = useSession()
const route = useRoute()
const name = ref('')
const password = ref('')
const refused = ref<string | null>(null)
const busy = ref(false)
useHead({ title: 'Able Mast' })

async function enter(): Promise<void> {
  busy.value = true
  refused.value = null
  try {
    await session.enter(session.needsSetup ? 'setup' : 'session', name.value, password.value)
    const to = String(route.query.to ?? '/')
    await navigateTo(/^\/(?!\/)/.test(to) ? to : '/')
  } catch (error) {
    refused.value = errorText(error)
  } finally { busy.value = false }
}
</script>

<template>
  <main class="enter">
    <form class="paper" @submit.prevent="enter">
      <svg width="64" height="84" viewBox="0 0 64 84" aria-hidden="true"><g fill="none" stroke="currentColor" stroke-width="1.4"><path d="M32 4 V80 M8 80 H56 M32 14 L10 80 M32 14 L54 80 M32 34 L20 34 M32 34 L44 34" /><circle cx="32" cy="10" r="3" /></g></svg>
      <h1>Able Mast</h1>
      <p class="lead">{{ session.needsSetup ? 'Nobody has an account here yet. Yours is the first; it owns the sites that it opens.' : 'Plans, brings up, adopts and proves the network of a site.' }}</p>
      <v-text-field v-model="name" label="Name" autocomplete="username" />
      <v-text-field v-model="password" label="Password" type="password" :autocomplete="session.needsSetup ? 'new-password' : 'current-password'" :hint="session.needsSetup ? 'At least 10 characters. Length is what counts.' : undefined" persistent-hint />
      <p v-if="refused" class="mark blockers" role="alert"><ShellStateShape kind="blockers" />{{ refused }}</p>
      <v-btn type="submit" color="primary" variant="flat" :loading="busy">{{ session.needsSetup ? 'Make the first account' : 'Sign in' }}</v-btn>
    </form>
  </main>
</template>

<style scoped>
.enter { min-height: 100dvh; display: grid; place-items: center; padding: 16px; }
.paper { width: min(420px, 100%); background: var(--paper); border: 1px solid var(--hair); padding: 28px; display: flex; flex-direction: column; gap: 12px; }
</style>
