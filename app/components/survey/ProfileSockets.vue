<script setup lang="ts">
/** The sockets of a profile: what each is by default, how fast, and which way power goes. */
import type { Profile, ProfilePort } from '@mast/core/plan'

const props = defineProps<{
  profile: Profile
  /** Names stay, and none comes or goes. */ fixed: boolean
  change: (changes: Partial<Profile>) => string | undefined
}>()
const chosen = ref<number | null>(null)
const refused = ref<string | undefined>()
const put = (ports: ProfilePort[]): string | undefined => (refused.value = props.change({ ports }))
const set = (i: number, changes: Partial<ProfilePort>): string | undefined =>
  put(props.profile.ports.map((p, n) => (n === i ? { ...p, ...changes } : p)))
/** One more like the last, with the next number. */
function add(): void {
  const last = props.profile.ports.at(-1)!
  const names = new Set(props.profile.ports.map((p) => p.name))
  const stem = last.name.replace(/\d+$/, '')
  let n = Number(/\d+$/.exec(last.name)?.[0] ?? 0) + 1
  while (names.has(`${stem}${n}`)) n++
  const at = props.profile.ports.length
  if (!put([...props.profile.ports, { ...last, name: `${stem}${n}` }])) chosen.value = at
}
function remove(i: number): void {
  if (!put(props.profile.ports.filter((_, n) => n !== i))) chosen.value = null
}
const roles = [
  { title: 'line', value: 'wan' },
  { title: 'LAN', value: 'lan' },
  { title: 'host', value: 'host' },
]
const power = [
  { title: 'no', value: null },
  ...[1, 2, 3, 4].map((value) => ({ title: `type ${value} (IEEE 802.3)`, value })),
]
</script>

<template>
  <section aria-label="Sockets of the profile">
    <div class="row spread">
      <h3>
        Sockets <span class="faint">{{ profile.ports.length }}</span>
      </h3>
      <v-btn v-if="!fixed" size="small" @click="add">Add a socket</v-btn
      ><span v-else class="faint"
        >Devices of this profile have cables in them, so their names stay.</span
      >
    </div>
    <table class="plain">
      <thead>
        <tr>
          <th>Socket</th>
          <th>Is by default</th>
          <th>Medium</th>
          <th>Speed</th>
          <th>Feeds power</th>
          <th>Takes power</th>
          <th>Needs</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(p, i) in profile.ports" :key="i">
          <tr
            :class="{ selected: chosen === i }"
            tabindex="0"
            @click="chosen = i"
            @keydown.enter="chosen = i"
          >
            <td class="mono">{{ p.name }}</td>
            <td>{{ roles.find((r) => r.value === p.role)!.title }}</td>
            <td>{{ p.medium }}</td>
            <td class="mono">{{ p.speedMbps }} Mbit/s</td>
            <td>{{ p.poeOutType ? `type ${p.poeOutType}` : '' }}</td>
            <td>{{ p.poeIn ? 'yes' : '' }}</td>
            <td>{{ profile.licences.find((l) => l.id === p.licenceId)?.name ?? '' }}</td>
          </tr>
          <tr v-if="chosen === i">
            <td colspan="7" class="form">
              <div class="fields">
                <InTurns>
                  <FieldsEditField
                    label="Name of the socket"
                    :disabled="fixed"
                    :value="p.name"
                    :save="(name) => set(i, { name: name.toLowerCase() })"
                    mono
                  />
                  <v-select
                    label="Is by default"
                    :model-value="p.role"
                    :items="roles"
                    @update:model-value="(role) => set(i, { role })"
                  />
                  <v-select
                    label="Medium"
                    :model-value="p.medium"
                    :items="['copper', 'optical']"
                    @update:model-value="(medium) => set(i, { medium })"
                  />
                  <FieldsEditField
                    label="Speed"
                    type="number"
                    suffix="Mbit/s"
                    :value="p.speedMbps"
                    :save="(t) => set(i, { speedMbps: Number(t) })"
                    mono
                  />
                  <v-select
                    label="Feeds power"
                    :model-value="p.poeOutType"
                    :items="power"
                    @update:model-value="(poeOutType) => set(i, { poeOutType })"
                  />
                  <v-checkbox
                    label="Takes power"
                    :model-value="p.poeIn"
                    @update:model-value="(poeIn) => set(i, { poeIn: !!poeIn })"
                  />
                  <v-select
                    v-if="profile.licences.length"
                    label="Needs the licence"
                    :model-value="p.licenceId"
                    :items="[
                      { title: 'none', value: null },
                      ...profile.licences.map((l) => ({ title: l.name, value: l.id })),
                    ]"
                    @update:model-value="(licenceId) => set(i, { licenceId })"
                  />
                  <v-btn
                    v-if="!fixed && profile.ports.length > 1"
                    variant="text"
                    color="error"
                    @click="remove(i)"
                    >Remove this socket</v-btn
                  >
                </InTurns>
              </div>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <Refusal :says="refused" />
  </section>
</template>

<style scoped>
.form {
  height: auto;
  padding: 10px 0;
}
</style>
