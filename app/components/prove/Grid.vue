<script setup lang="ts">
/**
 * Expected against observed for every pair: left half what was planned, right half what was seen.
 */
import { activeTunnels, placeName } from '@mast/core/plan'
import type { ProofResult } from '@mast/core/proof'

const props = defineProps<{ results: readonly ProofResult[] }>()
const cell = defineModel<string | null>('cell', { required: true })
const site = useSite()
const tunnels = computed(() => activeTunnels(site.opened.plan).map((t) => t.id))
const rows = computed(() => [
  ...site.opened.model.segments.map((s) => s.id),
  'internet',
  ...(props.results.some((r) => r.test.fromPlace === 'gateway') ? ['gateway'] : []),
  ...tunnels.value.filter((id) => props.results.some((r) => r.test.fromPlace === id)),
])
const columns = computed(() => [
  'controller',
  'gateway',
  ...site.opened.model.segments.map((s) => s.id),
  'internet',
  ...tunnels.value.filter((id) => props.results.some((r) => r.test.toPlace === id)),
])
const label = (p: string): string =>
  p === 'gateway'
    ? 'gateway'
    : p === 'controller'
      ? 'controller'
      : p === 'internet'
        ? 'internet'
        : placeName(site.opened.plan, p)
const cells = computed(() => {
  const map = new Map<string, ProofResult[]>()
  for (const r of props.results) {
    const key = `${r.test.fromPlace}>${r.test.toPlace}`
    map.set(key, [...(map.get(key) ?? []), r])
  }
  return map
})
const of = (from: string, to: string): ProofResult[] => cells.value.get(`${from}>${to}`) ?? []
const state = (list: readonly ProofResult[]): 'blockers' | 'cautions' | 'proven' =>
  list.some((r) => r.verdict === 'contradicts')
    ? 'blockers'
    : list.some((r) => r.verdict === 'untested')
      ? 'cautions'
      : 'proven'
const fine = (list: readonly ProofResult[]): number =>
  list.filter((r) => r.verdict === 'as-planned').length
const words = (list: readonly ProofResult[]): string => {
  const must = list.filter((r) => r.test.expected === 'works').length
  return [must ? `${must} must` : '', list.length - must ? `${list.length - must} must not` : '']
    .filter(Boolean)
    .join(', ')
}
</script>

<template>
  <div class="scroll-x">
    <table data-drawing class="grid" aria-label="Proof grid: expected and observed">
      <thead>
        <tr>
          <th><span class="faint">from</span></th>
          <th v-for="c in columns" :key="c" class="label">{{ label(c) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r">
          <th class="label" scope="row">{{ label(r) }}</th>
          <td v-for="c in columns" :key="c">
            <button
              v-if="of(r, c).length"
              type="button"
              :class="[state(of(r, c)), { chosen: cell === `${r}>${c}` }]"
              :aria-pressed="cell === `${r}>${c}`"
              :aria-label="`${label(r)} to ${label(c)}: ${fine(of(r, c))} of ${of(r, c).length} as planned`"
              @click="cell = cell === `${r}>${c}` ? null : `${r}>${c}`"
            >
              <ShellStateShape :kind="state(of(r, c))" /><span class="n mono"
                >{{ fine(of(r, c)) }}/{{ of(r, c).length }}</span
              ><span class="w">{{ words(of(r, c)) }}</span>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.grid {
  border-collapse: collapse;
}
th,
td {
  border: 1px solid var(--hair);
  padding: 0;
}
th {
  padding: 5px 9px;
  text-align: left;
  font-size: 13px;
  font-weight: 600;
  white-space: nowrap;
}
button {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0 6px;
  align-items: center;
  width: 100%;
  min-width: 92px;
  min-height: 44px;
  background: none;
  border: 0;
  font: inherit;
  padding: 4px 8px;
  cursor: pointer;
  text-align: left;
}
.proven {
  color: var(--proven);
}
.blockers {
  color: var(--blocker);
}
.cautions {
  color: var(--caution);
}
button.chosen,
button:hover {
  background: var(--selection);
}
.n {
  font-weight: 600;
}
.w {
  grid-column: 1 / -1;
  font-size: 11.5px;
  color: var(--faint);
}
</style>
