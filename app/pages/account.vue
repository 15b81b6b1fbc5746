<script setup lang="ts">
import { changePassword, endOtherSessions, endSession, readSessions, type Session } from '@mast/api'

const session = useSession()
const sessions = ref<Session[]>([])
const current = ref('')
const next = ref('')
const refused = ref<string | null>(null)
const said = ref<string | null>(null)
const read = async (): Promise<void> => {
  try {
    sessions.value = await ask(readSessions, {})
  } catch (error) {
    refused.value = errorText(error)
  }
}
onMounted(read)
async function attempt(run: () => Promise<string>): Promise<void> {
  refused.value = said.value = null
  try {
    said.value = await run()
  } catch (error) {
    refused.value = errorText(error)
  }
  await read()
}
const end = (s: Session): Promise<void> =>
  attempt(async () => {
    await ask(endSession, { params: { id: s.id } })
    return 'That session is ended.'
  })
const endOthers = (): Promise<void> =>
  attempt(async () => {
    const { ended } = await ask(endOtherSessions, {})
    return `${ended} ${ended === 1 ? 'session' : 'sessions'} ended.`
  })
const change = (): Promise<void> =>
  attempt(async () => {
    await ask(changePassword, {
      body: { current: current.value, next: next.value },
    })
    current.value = next.value = ''
    return 'The password is changed; every other session is signed out.'
  })
/** The program and the system, out of what a browser says of itself. */
const agent = (text: string): string =>
  [
    /(Firefox|Edg|OPR|Chrome|Safari)\/[\d.]+/
      .exec(text)?.[0]
      .replace(/\.0.*$/, '')
      .replace('/', ' '),
    /\(([^;)]+)/.exec(text)?.[1],
  ]
    .filter(Boolean)
    .join(', ') ||
  text ||
  'unknown'
</script>

<template>
  <ShellSideSheet
    title="Account"
    :question="`Where is ${session.account?.name ?? 'this account'} signed in?`"
    :back="{ to: '/', label: 'All sites' }"
  >
    <Refusal :says="refused" />
    <p v-if="said" class="mark clear" role="status"><ShellStateShape kind="clear" />{{ said }}</p>
    <h2>Sessions</h2>
    <table class="plain">
      <thead>
        <tr>
          <th>Browser</th>
          <th>Since</th>
          <th>Last used</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in sessions" :key="s.id">
          <td>{{ agent(s.agent) }}</td>
          <td class="mono">{{ momentText(s.createdAt) }}</td>
          <td class="mono">{{ momentText(s.lastSeenAt) }}</td>
          <td>
            <span v-if="s.isThis" class="faint">this one</span
            ><v-btn v-else size="small" variant="text" @click="end(s)">End it</v-btn>
          </td>
        </tr>
      </tbody>
    </table>
    <v-btn v-if="sessions.length > 1" class="mt-2" @click="endOthers">End all others</v-btn>
    <h2>Password</h2>
    <form class="password" @submit.prevent="change">
      <input
        type="text"
        class="visually-hidden"
        autocomplete="username"
        :value="session.account?.name"
        aria-label="Name"
        tabindex="-1"
        readonly
      />
      <v-text-field
        v-model="current"
        label="Current password"
        type="password"
        autocomplete="current-password"
      />
      <v-text-field
        v-model="next"
        label="New password"
        type="password"
        autocomplete="new-password"
        hint="At least 10 characters. Length is what counts."
        persistent-hint
      />
      <v-btn type="submit" color="primary" :disabled="!current || next.length < 10"
        >Change it</v-btn
      >
    </form>
  </ShellSideSheet>
</template>

<style scoped>
.password {
  max-width: 380px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: flex-start;
}
.password > * {
  width: 100%;
}
.password .v-btn {
  width: auto;
}
</style>
