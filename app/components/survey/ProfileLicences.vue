<script setup lang="ts">
/** What has to be bought or registered before all of a device works. */
import { idFor } from '@mast/core/plan'
import type { Profile } from '@mast/core/plan'

type Licence = Profile['licences'][number]
const props = defineProps<{
  profile: Profile
  change: (changes: Partial<Profile>) => string | undefined
}>()
const refused = ref<string | undefined>()
const put = (licences: Licence[], ports = props.profile.ports): string | undefined =>
  (refused.value = props.change({ licences, ...(ports === props.profile.ports ? {} : { ports }) }))
const set = (id: string, changes: Partial<Licence>): string | undefined =>
  put(props.profile.licences.map((l) => (l.id === id ? { ...l, ...changes } : l)))
function add(): void {
  const id = idFor('licence', new Set(props.profile.licences.map((l) => l.id)))
  put([
    ...props.profile.licences,
    { id, name: 'New licence', kind: 'licence', unlocks: 'what it unlocks' },
  ])
}
/** Sockets that needed it need nothing then. */
const remove = (id: string): void =>
  void put(
    props.profile.licences.filter((l) => l.id !== id),
    props.profile.ports.some((p) => p.licenceId === id)
      ? props.profile.ports.map((p) => (p.licenceId === id ? { ...p, licenceId: null } : p))
      : props.profile.ports,
  )
</script>

<template>
  <section aria-label="Licences of the profile">
    <div class="row spread">
      <h3>Licences and registrations</h3>
      <v-btn size="small" @click="add">Add a licence</v-btn>
    </div>
    <p v-if="profile.licences.length === 0" class="faint">
      None: it does all it can out of the box.
    </p>
    <div v-for="(l, i) in profile.licences" :key="l.id" class="fields one">
      <FieldsEditField
        :label="`Licence ${i + 1}`"
        :value="l.name"
        :save="(name) => set(l.id, { name })"
      />
      <v-select
        label="Is a"
        :model-value="l.kind"
        :items="['licence', 'registration', 'account']"
        @update:model-value="(kind) => set(l.id, { kind })"
      />
      <FieldsEditField
        label="Unlocks"
        :value="l.unlocks"
        :save="(unlocks) => set(l.id, { unlocks })"
      />
      <v-btn variant="text" color="error" @click="remove(l.id)">Remove {{ l.name }}</v-btn>
    </div>
    <Refusal :says="refused" />
  </section>
</template>

<style scoped>
.one {
  margin-bottom: 8px;
}
</style>
