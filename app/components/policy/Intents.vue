<script setup lang="ts">
/** Everything that is stated, in the order in which it is looked at. */
import {
  editCall,
  inPlan,
  hoursWords,
  intentsInOrder,
  placeName,
  type Intent,
} from '@mast/core/plan'
import type { Column } from '../rows/column'
import { useBulk } from '../rows/useBulk'

const site = useSite()
const intents = computed(() => intentsInOrder(site.opened.plan))
const opened = ref(false)
const name = (place: string): string => placeName(site.opened.plan, place)
const what = (i: Intent): string =>
  i.service === 'any' ? 'everything' : inPlan(site.opened.plan.services, i.service).name
const rows = computed(() => intents.value.map((i, at) => ({ ...i, at })))
type Row = (typeof rows.value)[number]
const columns: readonly Column<Row>[] = [
  { key: 'number', title: '#', value: (i) => i.at + 1, mono: true },
  { key: 'from', title: 'From', value: (i) => name(i.from) },
  { key: 'to', title: 'To', value: (i) => name(i.to) },
  { key: 'what', title: 'What', value: what },
  { key: 'verdict', title: 'Verdict', value: (i) => i.action },
  {
    key: 'when',
    title: 'When',
    value: (i) => (i.hours ? hoursWords(i.hours) : 'always'),
    mono: true,
  },
  { key: 'why', title: 'Why', value: (i) => i.reason },
  { key: 'acts', title: '', value: () => '', isUnsorted: true },
]
const { refused, all } = useBulk('statements')
const remove = (ids: readonly string[]): boolean =>
  all('Remove', ids, (id) => editCall('removeIntent', { id }))
</script>

<template>
  <details
    v-if="intents.length"
    @toggle="
      (e) => {
        opened = (e.target as HTMLDetailsElement).open
      }
    "
  >
    <summary class="label">
      What is stated: {{ intents.length }}, in the order in which it is looked at
    </summary>
    <div v-if="opened" class="scroll-x" role="group" aria-label="Stated">
      <LazyRowsDataTable
        :rows="rows"
        :columns="columns"
        what="statements"
        :groups="['from', 'to', 'verdict']"
        :open="site.selected"
        :hot="site.pointed"
      >
        <template #cell-verdict="{ row: i }"
          ><b>{{ i.action }}</b></template
        >
        <template #cell-why="{ row: i }"
          ><span class="faint">{{ i.reason }}</span></template
        >
        <template #cell-acts="{ row: i }">
          <span class="no-print acts"
            ><v-btn
              v-if="i.at > 0"
              size="small"
              variant="text"
              :aria-label="`Look at ${name(i.from)} to ${name(i.to)} earlier`"
              @click="site.edit('putIntentFirst', { id: i.id, before: intents[i.at - 1]!.id })"
              >Earlier</v-btn
            ><v-btn
              size="small"
              variant="text"
              :aria-label="`Remove ${name(i.from)} to ${name(i.to)}`"
              @click="site.edit('removeIntent', { id: i.id })"
              >Remove</v-btn
            ></span
          >
        </template>
        <template #chosen="{ ids, clear }"
          ><v-btn size="small" variant="text" color="error" @click="remove(ids) && clear()"
            >Remove</v-btn
          ></template
        >
      </LazyRowsDataTable>
      <Refusal :says="refused" />
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  margin: 16px 0 6px;
  font-weight: 600;
}
.acts {
  white-space: nowrap;
  text-align: right;
}
</style>
