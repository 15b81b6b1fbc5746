<script setup lang="ts">
import {
  changeRole,
  invite as invite_,
  readInvitations,
  readMembers,
  removeMember,
  withdrawInvitation,
  type Member,
  type OpenInvitation,
} from '@mast/api'
import { stopPath } from '~/composables/stops'
import { roles, type Role } from '@mast/core/roles'
const site = useSite()
const { siteId, failed } = useOpenSite()
const onSite = computed(() => ({ params: { site: siteId.value } }))
const members = ref<Member[]>([])
const invitations = ref<OpenInvitation[]>([])
const you = ref('')
const note = ref('')
const role = ref<Role>('installer')
const link = ref<string | null>(null)
const refused = ref<string | null>(null)
const isOwner = computed(
  () => members.value.find((m) => m.accountId === you.value)?.role === 'owner',
)
const meaning: Record<Role, string> = {
  owner: 'everything, with people and removal',
  engineer: 'edits the plan, faults, releases devices',
  installer: 'works the run sheet, claims, proves, sees keys',
  viewer: 'reads',
}
const choices = roles.map((r) => ({
  title: `${r}: ${meaning[r]}`,
  value: r,
}))

async function read(): Promise<void> {
  try {
    const reply = await ask(readMembers, onSite.value)
    members.value = reply.members
    you.value = reply.you
    if (isOwner.value) invitations.value = await ask(readInvitations, onSite.value)
  } catch (error) {
    refused.value = errorText(error)
  }
}
onMounted(read)
async function attempt(run: () => Promise<unknown>): Promise<void> {
  refused.value = null
  try {
    await run()
  } catch (error) {
    refused.value = errorText(error)
  }
  await read()
}
const change = (m: Member, to: Role): Promise<void> =>
  attempt(() =>
    ask(changeRole, {
      params: { ...onSite.value.params, account: m.accountId },
      body: { role: to },
    }),
  )
const remove = (m: Member): Promise<void> =>
  attempt(async () => {
    await ask(removeMember, { params: { ...onSite.value.params, account: m.accountId } })
    if (m.accountId === you.value) await navigateTo('/')
  })
const invite = (): Promise<void> =>
  attempt(async () => {
    const { token } = await ask(invite_, {
      ...onSite.value,
      body: { role: role.value, note: note.value },
    })
    link.value = `${location.origin}/enter?invitation=${token}`
    note.value = ''
  })
const withdraw = (i: OpenInvitation): Promise<void> =>
  attempt(() => ask(withdrawInvitation, { params: { ...onSite.value.params, id: i.id } }))
</script>

<template>
  <ShellSideSheet
    title="People"
    question="Who works on this site, and what may they do?"
    :back="{ to: stopPath(siteId, 'survey'), label: site.plan?.site.name ?? 'Back to the site' }"
  >
    <p v-if="failed || refused" class="mark blockers" role="alert">{{ failed ?? refused }}</p>
    <table class="plain people">
      <thead>
        <tr>
          <th>Name</th>
          <th>Role</th>
          <th>May</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in members" :key="m.accountId">
          <td>{{ m.name }}<span v-if="m.accountId === you" class="faint"> (you)</span></td>
          <td>
            <v-select
              v-if="isOwner"
              variant="plain"
              :aria-label="`Role of ${m.name}`"
              :model-value="m.role"
              :items="Object.keys(meaning)"
              style="width: 130px"
              @update:model-value="(r: Role) => change(m, r)"
            /><template v-else>{{ m.role }}</template>
          </td>
          <td class="faint">{{ meaning[m.role] }}</td>
          <td>
            <v-btn
              v-if="isOwner || m.accountId === you"
              size="small"
              variant="text"
              @click="remove(m)"
              >{{ m.accountId === you ? 'Leave the site' : 'Take off the site' }}</v-btn
            >
          </td>
        </tr>
      </tbody>
    </table>
    <template v-if="isOwner">
      <h2>Invite somebody</h2>
      <form class="row" @submit.prevent="invite">
        <v-text-field
          v-model="note"
          label="For whom"
          hint="For your list; they choose their own name"
          style="max-width: 260px"
        />
        <v-select v-model="role" label="Role" :items="choices" style="max-width: 420px" />
        <v-btn type="submit" color="primary">Make a link</v-btn>
      </form>
      <p v-if="link" class="link" role="status">
        Give them this link. It works once and for a week, and is not shown again:<br /><code
          class="mono"
          >{{ link }}</code
        >
      </p>
      <template v-if="invitations.length">
        <h2>Not used yet</h2>
        <table class="plain">
          <thead>
            <tr>
              <th>For</th>
              <th>Role</th>
              <th>By</th>
              <th>Until</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr v-for="i in invitations" :key="i.id">
              <td>{{ i.note || 'somebody' }}</td>
              <td>{{ i.role }}</td>
              <td>{{ i.by }}</td>
              <td class="mono">{{ dayText(i.expiresAt) }}</td>
              <td><v-btn size="small" variant="text" @click="withdraw(i)">Withdraw</v-btn></td>
            </tr>
          </tbody>
        </table>
      </template>
    </template>
    <p v-else class="faint">Owners invite people and change roles.</p>
  </ShellSideSheet>
</template>

<style scoped>
.people {
  max-width: 900px;
}
.link {
  border: 1px solid var(--ink);
  padding: 8px 12px;
  overflow-wrap: anywhere;
}
</style>
