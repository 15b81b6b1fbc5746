<script setup lang="ts">
/** Hosts and segments under one name, of which the policy can speak. */
import { newId, placeName, type SitePlan } from '@mast/core/plan'
import type { Column } from '../rows/column'

const site = useSite()
const groups = computed(() =>
  Object.values(site.opened.plan.groups).sort((a, b) => a.name.localeCompare(b.name)),
)
const members = useStable(() => [
  ...site
    .model!.devices.filter((d) => d.addressing.segmentId)
    .map((d) => ({ title: d.name, value: d.id })),
  ...site.opened.model.segments.map((s) => ({ title: `all of ${s.name}`, value: s.id })),
])
type Group = SitePlan['groups'][string]
const columns: readonly Column<Group>[] = [
  { key: 'name', title: 'Name', value: (g) => g.name },
  {
    key: 'members',
    title: 'Members',
    value: (g) => g.memberIds.length,
    text: (g) => g.memberIds.map((id) => placeName(site.opened.plan, id)).join(', '),
  },
]
const opened = ref(false)
const name = ref('')
const chosen = ref<string[]>([])
const refused = ref<string | undefined>()
function add(): void {
  refused.value = site.edit('addGroup', {
    id: newId(site.opened.plan, `grp ${name.value}`),
    name: name.value,
    memberIds: chosen.value,
  })
  if (refused.value) return
  name.value = ''
  chosen.value = []
}
</script>

<template>
  <details
    @toggle="
      (e) => {
        opened = (e.target as HTMLDetailsElement).open
      }
    "
  >
    <summary class="label">
      Groups: {{ groups.length
      }}{{ groups.length ? '' : ', for hosts of which the policy is to speak together' }}
    </summary>
    <template v-if="opened">
      <LazyRowsDataTable
        v-if="groups.length"
        :rows="groups"
        :columns="columns"
        what="groups"
        :open="site.selected"
        :hot="site.pointed"
        @open="(id: string) => (site.selected = id)"
      >
        <template #form="{ row: g }">
          <div class="in-place fields">
            <FieldsEditField
              label="Name of the group"
              :value="g.name"
              :save="(t) => site.edit('changeGroup', { id: g.id, changes: { name: t } })"
            />
            <v-autocomplete
              label="Members of the group"
              :model-value="g.memberIds"
              multiple
              :items="members"
              @update:model-value="
                (ids: readonly string[]) => {
                  refused = site.edit('changeGroup', {
                    id: g.id,
                    changes: { memberIds: [...ids] },
                  })
                }
              "
            />
            <v-btn
              variant="text"
              color="error"
              :aria-label="`Remove ${g.name}`"
              @click="refused = site.edit('removeGroup', { id: g.id })"
              >Remove</v-btn
            >
          </div>
        </template>
      </LazyRowsDataTable>
      <form class="row mt-2" aria-label="Add a group" @submit.prevent="add">
        <v-text-field
          v-model="name"
          label="Name"
          maxlength="80"
          style="max-width: 200px"
        /><v-autocomplete
          v-model="chosen"
          label="Members"
          multiple
          :items="members"
          style="max-width: 420px"
        /><v-btn type="submit" :disabled="!name.trim()">Add it</v-btn>
      </form>
      <Refusal :says="refused" />
    </template>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  margin: 16px 0 6px;
  font-weight: 600;
}
</style>
