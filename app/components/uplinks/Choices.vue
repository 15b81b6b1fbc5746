<script setup lang="ts">
/** Who leaves by which lines, where it is not all of them in their order. */
import { ANYWHERE, editCall, newId, placeName, type LineChoice } from '@mast/core/plan'
import { choicesInOrder } from '@mast/core/uplinks'
import type { Column } from '../rows/column'

const site = useSite()
const plan = computed(() => site.opened.plan)
const choices = computed(() => choicesInOrder(plan.value))
const lines = computed(() => site.opened.model.lines)
const refused = ref<string | undefined>()
const opened = ref(false)
const serviceName = (id: string): string =>
  id === 'any' ? 'anything' : (plan.value.services[id]?.name ?? id)
const lineNames = (c: LineChoice): string =>
  c.uplinkIds.map((id) => plan.value.uplinks[id]?.name ?? id).join(', then ') || 'no line at all'
const columns: readonly Column<LineChoice>[] = [
  { key: 'from', title: 'Who', value: (c) => placeName(plan.value, c.from) },
  { key: 'service', title: 'For', value: (c) => serviceName(c.service) },
  { key: 'lines', title: 'Leaves by', value: lineNames },
  { key: 'why', title: 'Why', value: (c) => c.reason },
  { key: 'acts', title: '', value: () => '', isUnsorted: true },
]
const segments = computed(() => [
  { title: 'everybody', value: ANYWHERE },
  ...site.opened.model.segments.map((s) => ({ title: s.name, value: s.id })),
])
const services = computed(() => [
  { title: 'anything', value: 'any' },
  ...Object.values(plan.value.services).map((s) => ({ title: s.name, value: s.id })),
])
const draft = reactive({
  from: null as string | null,
  service: 'any',
  uplinkIds: [] as string[],
  reason: '',
})
function add(): void {
  const { from, service, uplinkIds, reason } = draft
  if (!from) return
  refused.value = site.edit('addLineChoice', {
    id: newId(plan.value, `out ${from} ${service}`),
    from,
    service,
    uplinkIds: [...uplinkIds],
    rank: Math.max(0, ...choices.value.map((c) => c.rank)) + 10,
    reason,
  })
  if (!refused.value)
    Object.assign(draft, { from: null, service: 'any', uplinkIds: [], reason: '' })
}
/** Before the one that stands above it. */
function earlier(c: LineChoice): void {
  const before = choices.value[choices.value.indexOf(c) - 1]
  if (!before) return
  refused.value = site.mend('Asked a choice of lines earlier', [
    editCall('changeLineChoice', { id: c.id, changes: { rank: before.rank } }),
    editCall('changeLineChoice', {
      id: before.id,
      changes: { rank: Math.max(c.rank, before.rank + 1) },
    }),
  ])
}
</script>

<template>
  <details
    v-if="lines.length > 1"
    :open="choices.length > 0"
    @toggle="
      (e) => {
        opened = (e.target as HTMLDetailsElement).open
      }
    "
  >
    <summary class="label">
      Who leaves by which line:
      {{
        choices.length
          ? `${choices.length} said; what none speaks of uses all in their order`
          : 'everybody by all of them, in their order'
      }}
    </summary>
    <template v-if="opened">
      <div class="scroll-x" role="group" aria-label="Who leaves by which line">
        <LazyRowsDataTable
          v-if="choices.length"
          :rows="choices"
          :columns="columns"
          what="choices"
          :open="site.selected"
          :hot="site.pointed"
        >
          <template #cell-why="{ row: c }: { row: LineChoice }"
            ><span class="faint">{{ c.reason }}</span></template
          >
          <template #cell-acts="{ row: c }: { row: LineChoice }"
            ><v-btn
              v-if="choices[0] !== c"
              class="no-print"
              size="small"
              variant="text"
              :aria-label="`Ask ${placeName(plan, c.from)} for ${serviceName(c.service)} earlier`"
              @click="earlier(c)"
              >Earlier</v-btn
            ><v-btn
              class="no-print"
              size="small"
              variant="text"
              :aria-label="`Remove ${placeName(plan, c.from)} for ${serviceName(c.service)}`"
              @click="refused = site.edit('removeLineChoice', { id: c.id })"
              >Remove</v-btn
            ></template
          >
        </LazyRowsDataTable>
      </div>
      <form class="row mt-2 no-print" aria-label="Add a choice of lines" @submit.prevent="add">
        <v-autocomplete
          v-model="draft.from"
          label="Who"
          :items="segments"
          style="max-width: 200px"
        /><v-autocomplete
          v-model="draft.service"
          label="For"
          :items="services"
          style="max-width: 180px"
        /><v-select
          v-model="draft.uplinkIds"
          label="Lines, in this order"
          multiple
          :items="lines.map((u) => ({ title: u.name, value: u.id }))"
          style="max-width: 300px; min-width: 220px"
        /><v-text-field
          v-model="draft.reason"
          label="Why"
          maxlength="200"
          style="max-width: 220px"
        />
        <v-btn type="submit" :disabled="!draft.from || draft.uplinkIds.length === 0">Add it</v-btn>
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
