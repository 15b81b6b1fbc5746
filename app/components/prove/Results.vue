<script setup lang="ts">
/** What was measured of every test, what contradicts first. */
import type { ProofResult } from '@mast/core/proof'
import type { Column } from '../rows/column'

const props = defineProps<{ results: readonly ProofResult[]; cell: string | null }>()
const emit = defineEmits<{ again: [ids: string[]]; all: [] }>()
const weight = { contradicts: 0, untested: 1, 'as-planned': 2 }
const list = computed(() =>
  props.results
    .filter((r) => props.cell === null || `${r.test.fromPlace}>${r.test.toPlace}` === props.cell)
    .map((r) => ({ ...r, id: r.test.id }))
    .sort((a, b) => weight[a.verdict] - weight[b.verdict]),
)
type Row = (typeof list.value)[number]
const shapes = {
  'as-planned': 'proven',
  contradicts: 'blockers',
  untested: 'cautions',
} as const
const where = (r: Row): string => r.test.address ?? r.test.subnet ?? ''
const columns: readonly Column<Row>[] = [
  { key: 'verdict', title: 'Verdict', value: (r) => r.verdict.replace('-', ' ') },
  { key: 'test', title: 'Test', value: (r) => r.test.title },
  { key: 'expected', title: 'Expected', value: (r) => r.test.expected },
  { key: 'where', title: 'In', value: where, mono: true },
  { key: 'seen', title: 'Seen', value: (r) => r.observed, mono: true },
  { key: 'again', title: '', value: () => '', isUnsorted: true },
]
</script>

<template>
  <section aria-label="Results">
    <div class="row spread">
      <h2>
        {{ cell ? 'Results of this pair' : 'All results' }}
        <span class="faint">{{ list.length }}</span>
      </h2>
      <v-btn v-if="cell" size="small" variant="text" @click="emit('all')">All results</v-btn>
    </div>
    <LazyRowsDataTable
      :rows="list"
      :columns="columns"
      what="results"
      :groups="['verdict', 'expected']"
    >
      <template #cell-verdict="{ row: r }: { row: Row }"
        ><span class="mark" :class="shapes[r.verdict]" :data-verdict="r.verdict"
          ><ShellStateShape :kind="shapes[r.verdict]" />{{ r.verdict.replace('-', ' ') }}</span
        ></template
      >
      <template #cell-again="{ row: r }"
        ><v-btn
          v-if="r.verdict !== 'as-planned'"
          class="no-print"
          size="small"
          variant="text"
          @click="emit('again', [r.id])"
          >Again</v-btn
        ></template
      >
      <template #chosen="{ ids }"
        ><v-btn size="small" variant="text" @click="emit('again', [...ids])"
          >Run these again</v-btn
        ></template
      >
    </LazyRowsDataTable>
  </section>
</template>
