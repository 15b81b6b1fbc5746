<script setup lang="ts">
import { chosenDuration } from '@mast/core/words'
/**
 * How full a pool is over a day, for how clients come and go and how long a lease holds; drawn, and
 * as a table.
 */
import {
  exhaustedAt,
  heldSeconds,
  leaseThatFits,
  occupancyOverDay,
  peakOccupancy,
  poolFor,
  rebindSeconds,
  renewSeconds,
  spanSize,
  usualLeases,
} from '@mast/core/addressing'
import type { Churn, Segment } from '@mast/core/plan'

const site = useSite()
const segment = computed<Segment | undefined>(
  () =>
    site.opened.model.segments.find((s) => s.id === site.selected) ??
    site.opened.model.segments.find((s) => s.churn) ??
    site.opened.model.segments.find((s) => s.purpose === 'guests') ??
    site.opened.model.segments[0],
)
const usual: Churn = { arrivalsPerHour: 30, heldMinutes: 120, fromHour: 8, toHour: 20 }
const churn = computed<Churn>(() => segment.value?.churn ?? usual)
const change = (changes: Partial<Churn>): string | undefined =>
  site.edit('changeSegment', {
    id: segment.value!.id,
    changes: { churn: { ...churn.value, ...changes } },
  })
const pool = computed(
  () => segment.value?.pools.reduce((n, p) => n + Math.max(0, spanSize(p)), 0) ?? 0,
)
const day = computed(() =>
  segment.value ? occupancyOverDay(churn.value, segment.value.leaseSeconds) : [],
)
const peak = computed(() => peakOccupancy(churn.value, segment.value!.leaseSeconds))
const needed = computed(() => poolFor(churn.value, segment.value!.leaseSeconds))
const full = computed(() => exhaustedAt(churn.value, segment.value!.leaseSeconds, pool.value))
const fits = computed(() => leaseThatFits(churn.value, pool.value))
const leases = useStable(() =>
  [...new Set([...usualLeases, segment.value?.leaseSeconds ?? 0])]
    .sort((a, b) => a - b)
    .map((value) => ({ title: chosenDuration(value), value })),
)
const clock = (hour: number): string =>
  `${String(Math.floor(hour) % 24).padStart(2, '0')}:${String(Math.round((hour % 1) * 60)).padStart(2, '0')}`
</script>

<template>
  <section v-if="segment" aria-label="Leases" class="keep">
    <h2>Leases of {{ segment.name }}</h2>
    <div class="fields no-print">
      <InTurns>
        <FieldsEditField
          label="Arrivals an hour"
          type="number"
          :value="churn.arrivalsPerHour"
          :save="(t) => change({ arrivalsPerHour: Number(t) })"
          mono
        />
        <FieldsEditField
          label="One stays"
          type="number"
          suffix="min"
          :value="churn.heldMinutes"
          :save="(t) => change({ heldMinutes: Number(t) })"
          mono
        />
        <FieldsEditField
          label="They come from"
          type="number"
          suffix="h"
          :value="churn.fromHour"
          :save="(t) => change({ fromHour: Number(t) })"
          mono
        />
        <FieldsEditField
          label="until"
          type="number"
          suffix="h"
          :value="churn.toHour"
          :save="(t) => change({ toHour: Number(t) })"
          mono
        />
        <v-select
          label="Lease"
          :model-value="segment.leaseSeconds"
          :items="leases"
          @update:model-value="
            (leaseSeconds) =>
              site.edit('changeSegment', { id: segment!.id, changes: { leaseSeconds } })
          "
        />
      </InTurns>
    </div>
    <p v-if="!segment.churn" class="faint">
      Nothing is recorded of how its clients come and go: each of the
      {{ segment.expectedHosts }} that are expected holds one of {{ pool }} addresses. Record
      arrivals to see a day of them.
    </p>
    <LazyAddressesLeaseChart
      v-if="segment.churn"
      :day="day"
      :pool="pool"
      :title="`Addresses of ${segment.name} held over a day`"
    />
    <dl v-if="segment.churn" class="facts">
      <dt>An address is held</dt>
      <dd
        class="mono"
        title="renewed at half of the lease while the client is there; one lease after the last renewal
          (RFC 2131 4.4.5)"
      >
        {{ chosenDuration(Math.round(heldSeconds(churn.heldMinutes * 60, segment.leaseSeconds))) }}
      </dd>
      <dt>Held at the peak</dt>
      <dd
        class="mono"
        title="arrivals an hour times the time held, over the busy hours (Little: L = lambda W)"
      >
        {{ Math.round(peak) }} of {{ pool }}
      </dd>
      <dt>Needed</dt>
      <dd class="mono" title="exceeded at the peak on one day of a thousand (Poisson)">
        {{ needed }}
      </dd>
      <dt>Full</dt>
      <dd>
        {{
          day.every((p) => p.mean > pool)
            ? 'all day'
            : full === null
              ? 'not on an ordinary day'
              : `at ${clock(full)}`
        }}
      </dd>
      <dt>Renews, rebinds</dt>
      <dd class="mono">
        {{ chosenDuration(renewSeconds(segment.leaseSeconds)) }},
        {{ chosenDuration(rebindSeconds(segment.leaseSeconds)) }}
      </dd>
      <dt>What fits</dt>
      <dd>
        {{
          needed <= pool
            ? 'this does'
            : fits
              ? `a lease of ${chosenDuration(fits)}, or a pool of ${needed}`
              : `no usual lease; a pool of ${needed}`
        }}
      </dd>
    </dl>
    <details v-if="segment.churn">
      <summary>The same as a table</summary>
      <table class="plain">
        <thead>
          <tr>
            <th>Hour</th>
            <th>Held on average</th>
            <th>1 day in 1,000 more than</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in day.filter((_, i) => i % 8 === 0)" :key="p.hour">
            <td class="mono">{{ clock(p.hour) }}</td>
            <td class="mono">{{ Math.round(p.mean) }}</td>
            <td class="mono">{{ p.high }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </section>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: max-content 1fr max-content 1fr;
  gap: 4px 16px;
  margin: 8px 0;
}
.facts dt {
  color: var(--faint);
}
.facts dd {
  margin: 0;
}
summary {
  cursor: pointer;
  font-size: 13px;
}
@media (max-width: 600px) {
  .facts {
    grid-template-columns: max-content 1fr;
  }
}
</style>
