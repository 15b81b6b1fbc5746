<script setup lang="ts">
/** The segments: where each lies, what it hands out, and how long that lasts. */
import { onWish } from '~/composables/useWish'
import { chosenDuration } from '@mast/core/words'
import {
  parsePrefix,
  spanSize,
  usableHosts,
  usualLeases,
  yearsUntilFull,
} from '@mast/core/addressing'
import { editCall, segmentPurposes, type Segment } from '@mast/core/plan'
import { strandOf } from '~/components/drawing/strands'
import type { Column } from '../rows/column'
import { useBulk } from '../rows/useBulk'

const site = useSite()
const adding = ref(false)
onWish('segment', () => {
  adding.value = true
})

const hosts = (s: Segment): string => {
  const p = s.subnet ? parsePrefix(s.subnet) : undefined
  return p ? String(usableHosts(p)) : ''
}
const poolSize = (s: Segment): number => s.pools.reduce((n, p) => n + Math.max(0, spanSize(p)), 0)
const short = (s: Segment): string =>
  s.pools.map((p) => `${p.first}-${p.last.split('.').slice(-1)}`).join(', ')
const yearsOf = (s: Segment): number | null =>
  s.pools.length === 0
    ? null
    : yearsUntilFull(
        s.expectedHosts,
        poolSize(s),
        s.growthPercent,
        site.opened.plan.site.preferences.growthYears,
      )
function fullIn(s: Segment): string {
  const years = yearsOf(s)
  if (years === null) return ''
  return years === Infinity
    ? 'never'
    : years === 0
      ? 'full now'
      : years > 50
        ? 'over 50 years'
        : `${years < 10 ? years.toFixed(1) : Math.round(years)} years`
}
const hostWords = (s: Segment): string => `${s.expectedHosts}/${hosts(s) || '?'}`
const poolWords = (s: Segment): string =>
  s.dhcp.mode === 'server'
    ? short(s)
    : s.dhcp.mode === 'relay'
      ? `relayed to ${s.dhcp.relayTo}`
      : 'no leases'
const columns: readonly Column<Segment>[] = [
  { key: 'strand', title: '', value: () => '', isUnsorted: true },
  { key: 'vlan', title: 'VLAN', value: (s) => s.vlanId, mono: true },
  { key: 'name', title: 'Segment', value: (s) => s.name },
  { key: 'purpose', title: 'Purpose', value: (s) => s.purpose },
  {
    key: 'subnet',
    title: 'Subnet',
    value: (s) => s.subnet ?? '',
    text: (s) =>
      [s.subnet ?? 'not placed', s.subnet6, s.locked && 'locked'].filter(Boolean).join(' '),
    mono: true,
  },
  { key: 'gateway', title: 'Gateway', value: (s) => s.gateway ?? '', mono: true },
  { key: 'pool', title: 'Pool', value: poolSize, text: poolWords, mono: true },
  { key: 'hosts', title: 'Hosts', value: (s) => s.expectedHosts, text: hostWords, mono: true },
  {
    key: 'full',
    title: 'Full in',
    value: (s) => yearsOf(s) ?? Infinity,
    text: fullIn,
    mono: true,
    hint: 'Until the hosts, growing as planned, fill the pool',
  },
  {
    key: 'lease',
    title: 'Lease',
    value: (s) => s.leaseSeconds,
    text: (s) => chosenDuration(s.leaseSeconds),
    mono: true,
  },
]
const { refused, all, make } = useBulk('segments')
const purposes = segmentPurposes.map((p) => ({ title: p, value: p }))
const leases = usualLeases.map((s) => ({ title: chosenDuration(s), value: s }))
const changeAll = (ids: readonly string[], changes: Partial<Segment>): boolean =>
  all('Change', ids, (id) => editCall('changeSegment', { id, changes }))
const place = (ids: readonly string[]): boolean =>
  make('Place', ids.length, [editCall('allocateSegments', { segmentIds: [...ids] })])
const remove = (ids: readonly string[]): boolean =>
  all('Remove', ids, (id) => editCall('removeSegment', { id }))
/** Shows what was added, and goes there with the keyboard. */
async function added(id: string): Promise<void> {
  adding.value = false
  site.selected = id
  await nextTick()
  document.querySelector<HTMLElement>(`tr[data-row="${id}"]`)?.focus()
}
</script>

<template>
  <section aria-label="Segments">
    <div class="row spread">
      <h2>
        Segments <span class="faint">{{ site.opened.model.segments.length }}</span>
      </h2>
      <v-btn class="no-print" size="small" @click="adding = !adding">Add a segment</v-btn>
    </div>
    <AddressesNewSegment v-if="adding" @added="added" @close="adding = false" />
    <p v-if="site.opened.model.segments.length === 0" class="lead">
      No segment yet. A site usually starts with management, the staff and the guests; say how many
      hosts each will see, then allocate them. An address plan that exists can be read in below.
    </p>
    <div v-else class="scroll-x">
      <LazyRowsDataTable
        :rows="site.opened.model.segments"
        :columns="columns"
        what="segments"
        :groups="['purpose']"
        :open="site.selected"
        :hot="site.pointed"
        @open="(id: string) => (site.selected = id)"
      >
        <template #cell-strand="{ row: s }">
          <svg width="26" height="8" aria-hidden="true">
            <line
              x1="0"
              x2="26"
              y1="4"
              y2="4"
              stroke-width="3"
              :stroke="strandOf(site.opened.model.segments, s.id).colour"
              :stroke-dasharray="strandOf(site.opened.model.segments, s.id).dash"
            />
          </svg>
        </template>
        <template #cell-subnet="{ row: s }">
          {{ s.subnet ?? 'not placed' }}<span v-if="s.locked" class="faint"> locked</span>
          <div v-if="s.subnet6" class="six">{{ s.subnet6 }}</div>
        </template>
        <template #cell-hosts="{ row: s }"
          ><span
            :title="`${s.expectedHosts} expected, ${hosts(s) || 'not known how many'} possible`"
            >{{ hostWords(s) }}</span
          ></template
        >
        <template #cell-full="{ row: s }"
          ><span
            :title="
              `ln(${poolSize(s)} / ${s.expectedHosts}) / ln(1 + yearly growth); ` +
              `${s.growthPercent} % over ${site.opened.plan.site.preferences.growthYears} years`
            "
            >{{ fullIn(s) }}</span
          ></template
        >
        <template #chosen="{ ids, clear }">
          <RowsBulkSelect
            label="Purpose"
            :items="purposes"
            @choose="(purpose) => changeAll(ids, { purpose })"
          />
          <RowsBulkSelect
            label="Lease"
            :items="leases"
            @choose="(leaseSeconds) => changeAll(ids, { leaseSeconds })"
          />
          <v-btn size="small" variant="text" @click="place(ids)">Place them anew</v-btn
          ><v-btn size="small" variant="text" color="error" @click="remove(ids) && clear()"
            >Remove</v-btn
          >
        </template>
        <template #form="{ row: s }">
          <div class="in-place fields">
            <AddressesSegmentFields :s="s" />
          </div>
        </template>
      </LazyRowsDataTable>
      <Refusal :says="refused" />
    </div>
  </section>
</template>

<style scoped>
.six {
  font-size: 12px;
  color: var(--faint);
}
</style>
