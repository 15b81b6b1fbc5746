<script setup lang="ts">
import { acceptInvitation, readInvitation, type Reply } from '@mast/api'
import { stopPath } from '~/composables/stops'

const session = useSession()
const route = useRoute()
const name = ref('')
const password = ref('')
const refused = ref<string | null>(null)
const busy = ref(false)
const hasAccount = ref(false)
/** What somebody else left on this device, once it was told of; pressing on forgets it. */
const left = ref<{ name: string; count: number } | null>(null)
watch(name, () => {
  left.value = null
})
const invitation = ref<Reply<typeof readInvitation> | null>(null)
const token = computed(() =>
  /^[\w-]{43}$/.test(String(route.query.invitation ?? '')) ? String(route.query.invitation) : null,
)
const makesAccount = computed(
  () => session.needsSetup || (!!invitation.value && !session.account && !hasAccount.value),
)
useHead({ title: 'Able Mast' })

onMounted(async () => {
  if (!token.value) return
  try {
    invitation.value = await ask(readInvitation, { params: { token: token.value } })
  } catch (error) {
    refused.value = errorText(error)
  }
})

async function join(newAccount: { name: string; password: string } | null): Promise<void> {
  const { siteId } = await ask(acceptInvitation, {
    params: { token: token.value! },
    body: { newAccount },
  })
  await session.refresh()
  await navigateTo(stopPath(siteId, 'survey'))
}
async function enter(): Promise<void> {
  busy.value = true
  refused.value = null
  try {
    const others = session.account ? null : await session.leftBehind(name.value)
    if (others && !left.value) {
      left.value = others
      return
    }
    if (invitation.value && (session.account || makesAccount.value))
      return await join(session.account ? null : { name: name.value, password: password.value })
    await session.enter(session.needsSetup ? 'setup' : 'session', name.value, password.value)
    if (invitation.value) return await join(null)
    const to = String(route.query.to ?? '/')
    await navigateTo(/^\/(?!\/)/.test(to) ? to : '/')
  } catch (error) {
    refused.value = errorText(error)
  } finally {
    busy.value = false
  }
}
const lead = computed(() =>
  invitation.value
    ? `You are invited to ${invitation.value.site} as ${invitation.value.role}.`
    : session.needsSetup
      ? 'Nobody has an account here yet. Yours is the first; it owns the sites that it opens.'
      : 'Plans, brings up, adopts and proves the network of a site.',
)
</script>

<template>
  <main class="enter">
    <form class="paper" @submit.prevent="enter">
      <svg width="64" height="84" viewBox="0 0 64 84" aria-hidden="true">
        <g fill="none" stroke="currentColor" stroke-width="1.4">
          <path d="M32 4 V80 M8 80 H56 M32 14 L10 80 M32 14 L54 80 M32 34 L20 34 M32 34 L44 34" />
          <circle cx="32" cy="10" r="3" />
        </g>
      </svg>
      <h1>Able Mast</h1>
      <p class="lead">{{ lead }}</p>
      <p v-if="session.away" class="mark cautions" role="status">
        <ShellStateShape kind="cautions" />The server does not answer; signing in needs it.
      </p>
      <p v-if="session.account && invitation">Signed in as {{ session.account.name }}.</p>
      <template v-else>
        <v-text-field v-model="name" label="Name" autocomplete="username" />
        <v-text-field
          v-model="password"
          label="Password"
          type="password"
          :autocomplete="makesAccount ? 'new-password' : 'current-password'"
          :hint="makesAccount ? 'At least 10 characters. Length is what counts.' : undefined"
          persistent-hint
        />
      </template>
      <p v-if="refused" class="mark blockers" role="alert">
        <ShellStateShape kind="blockers" />{{ refused }}
      </p>
      <p v-if="left" class="mark cautions" role="alert">
        <ShellStateShape kind="cautions" :count="left.count" /><span
          >{{ left.count === 1 ? 'A change or tick' : `${left.count} changes and ticks` }} of
          {{ left.name }} on this device did not reach the server. Sign in as {{ left.name }} to
          send {{ left.count === 1 ? 'it' : 'them' }}; going on as {{ name.trim() }} forgets
          {{ left.count === 1 ? 'it' : 'them' }}.</span
        >
      </p>
      <v-btn type="submit" :color="left ? 'error' : 'primary'" variant="flat" :loading="busy">{{
        left
          ? `Forget ${left.count === 1 ? 'it' : 'them'} and go on`
          : session.account && invitation
            ? 'Join'
            : session.needsSetup
              ? 'Make the first account'
              : makesAccount
                ? 'Make an account and join'
                : 'Sign in'
      }}</v-btn>
      <v-btn
        v-if="invitation && !session.account"
        variant="text"
        size="small"
        @click="hasAccount = !hasAccount"
        >{{ hasAccount ? 'I have no account yet' : 'I have an account already' }}</v-btn
      >
    </form>
  </main>
</template>

<style scoped>
.enter {
  min-height: 100dvh;
  display: grid;
  place-items: center;
  padding: 16px;
}
.paper {
  width: min(420px, 100%);
  background: var(--paper);
  border: 1px solid var(--hair);
  padding: 28px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.mark {
  white-space: normal;
}
</style>
