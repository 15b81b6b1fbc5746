<script setup lang="ts">
/** The segments: where each lies, what it hands out, and how long that lasts. */
import { onWish } from '~/composables/useWish'
import { chosenDuration } from '@mast/core/words'
import { parsePrefix, spanSize, usableHosts, yearsUntilFull } from '@mast/core/addressing'
import type { Segment } from '@mast/core/plan'
import { strandOf } from '~/components/drawing/strands'

const site = useSite()
const adding = ref(false)
onWish('segment', () => {
  adding.value = true
})
const { shown, rest, more, reach } = useShownRows(() => site.opened.model.segments)
watch(
  () => site.selected,
  (id) => reach(site.opened.model.segments.findIndex((s) => s.id === id)),
)

const hosts = (s: Segment): string => {
  const p = s.subnet ? parsePrefix(s.subnet) : undefined
  return p ? String(usableHosts(p)) : ''
}
const poolSize = (s: Segment): number => s.pools.reduce((n, p) => n + Math.max(0, spanSize(p)), 0)
const short = (s: Segment): string =>
  s.pools.map((p) => `${p.first}-${p.last.split('.').slice(-1)}`).join(', ')
function fullIn(s: Segment): string {
  if (s.pools.length === 0) return ''
  const years = yearsUntilFull(
    s.expectedHosts,
    poolSize(s),
    s.growthPercent,
    site.opened.plan.site.preferences.growthYears,
  )
  return years === Infinity
    ? 'never'
    : years === 0
      ? 'full now'
      : years > 50
        ? 'over 50 years'
        : `${years < 10 ? years.toFixed(1) : Math.round(years)} years`
}
/** Shows what was added, and goes there with the keyboard. */
async function added(id: string): Promise<void> {
  adding.value = false
  site.selected = id
  await nextTick()
  document.getElementById(`segment-${id}`)?.focus()
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
      <table class="plain">
        <thead>
          <tr>
            <th />
            <th>VLAN</th>
            <th>Segment</th>
            <th>Purpose</th>
            <th>Subnet</th>
            <th>Gateway</th>
            <th>Pool</th>
            <th>Hosts</th>
            <th title="Until the hosts, growing as planned, fill the pool">Full in</th>
            <th>Lease</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="s in shown" :key="s.id">
            <tr
              :id="`segment-${s.id}`"
              :class="{ selected: site.selected === s.id || site.pointed.includes(s.id) }"
              tabindex="0"
              @click="site.selected = s.id"
              @keydown.enter="site.selected = s.id"
            >
              <td>
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
              </td>
              <td class="mono">{{ s.vlanId }}</td>
              <td>{{ s.name }}</td>
              <td>{{ s.purpose }}</td>
              <td class="mono">
                {{ s.subnet ?? 'not placed' }}<span v-if="s.locked" class="faint"> locked</span>
                <div v-if="s.subnet6" class="six">{{ s.subnet6 }}</div>
              </td>
              <td class="mono">{{ s.gateway ?? '' }}</td>
              <td class="mono">
                {{
                  s.dhcp.mode === 'server'
                    ? short(s)
                    : s.dhcp.mode === 'relay'
                      ? `relayed to ${s.dhcp.relayTo}`
                      : 'no leases'
                }}
              </td>
              <td class="mono" :title="`${s.expectedHosts} expected, ${hosts(s)} possible`">
                {{ s.expectedHosts }}/{{ hosts(s) || '?' }}
              </td>
              <td
                class="mono"
                :title="
                  `ln(${poolSize(s)} / ${s.expectedHosts}) / ln(1 + yearly growth); ` +
                  `${s.growthPercent} % over ${site.opened.plan.site.preferences.growthYears} years`
                "
              >
                {{ fullIn(s) }}
              </td>
              <td class="mono">{{ chosenDuration(s.leaseSeconds) }}</td>
            </tr>
            <tr v-if="site.selected === s.id">
              <td colspan="10" style="height: auto">
                <div class="in-place fields">
                  <AddressesSegmentFields :s="s" />
                </div>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <RowsMore :rest="rest" what="segments" @more="more" />
    </div>
  </section>
</template>

<style scoped>
.six {
  font-size: 12px;
  color: var(--faint);
}
</style>
