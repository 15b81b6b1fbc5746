<script setup lang="ts">
/** What was measured of every test, what contradicts first. */
import type { ProofResult } from '@mast/core/proof'

const props = defineProps<{ results: readonly ProofResult[]; cell: string | null }>()
const emit = defineEmits<{ again: [id: string]; all: [] }>()
const list = computed(() => {
  const of = props.cell
    ? props.results.filter((r) => `${r.test.fromPlace}>${r.test.toPlace}` === props.cell)
    : props.results
  const weight = { contradicts: 0, untested: 1, 'as-planned': 2 }
  return [...of].sort((a, b) => weight[a.verdict] - weight[b.verdict])
})
const { shown, rest, more } = useShownRows(() => list.value)
const shape = (r: ProofResult) =>
  (r.verdict === 'as-planned'
    ? 'proven'
    : r.verdict === 'contradicts'
      ? 'blockers'
      : 'cautions') as 'proven' | 'blockers' | 'cautions'
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
    <ul class="results">
      <li v-for="r in shown" :key="r.test.id" class="keep" :data-verdict="r.verdict">
        <span class="mark" :class="shape(r)"
          ><ShellStateShape :kind="shape(r)" />{{ r.verdict.replace('-', ' ') }}</span
        >
        <span class="title">{{ r.test.title }}</span>
        <span class="seen"
          ><span class="faint">expected</span> {{ r.test.expected
          }}<template v-if="r.test.subnet">
            in <span class="mono">{{ r.test.address ?? r.test.subnet }}</span></template
          >{{ ' ' }}<span class="faint">seen</span> <span class="mono">{{ r.observed }}</span></span
        >
        <v-btn
          v-if="r.verdict !== 'as-planned'"
          class="no-print"
          size="small"
          variant="text"
          @click="emit('again', r.test.id)"
          >Again</v-btn
        >
      </li>
    </ul>
    <RowsMore :rest="rest" what="results" @more="more" />
  </section>
</template>

<style scoped>
.results {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  display: grid;
  grid-template-columns: 110px minmax(0, 1.2fr) minmax(0, 1fr) auto;
  gap: 4px 12px;
  align-items: center;
  border-bottom: 1px solid var(--hair);
  min-height: 32px;
  font-size: 13.5px;
}
@media (max-width: 600px) {
  li {
    grid-template-columns: 1fr auto;
    padding: 8px 0;
  }
  .title,
  .seen {
    grid-column: 1 / -1;
  }
}
</style>
