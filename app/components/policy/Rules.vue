<script setup lang="ts">
import { hoursWords, placeName, portsInWords, uplinksInOrder } from '@mast/core/plan'
import {
  compilePolicy,
  LINE,
  segmentSizeOf,
  type AddressList,
  type Rule,
  type Zone,
} from '@mast/core/policy'
import type { Column } from '../rows/column'

const site = useSite()
const rules = computed(() => compilePolicy(site.opened.plan))
const narrow = computed(() =>
  uplinksInOrder(site.opened.plan).flatMap(({ id, name, handOff }) => {
    const size = segmentSizeOf(handOff)
    return size ? [{ id, name, size }] : []
  }),
)
const opened = ref(false)
const zones = (list: readonly Zone[] | 'any', of: AddressList | null): string => {
  const where =
    list === 'any'
      ? 'any'
      : list.length === site.opened.model.segments.length && list.length > 2
        ? 'every segment'
        : list.map((z) => (z === LINE ? 'the line' : placeName(site.opened.plan, z))).join(', ')
  return of ? `${where}: ${listWords(of)}` : where
}
const listWords = ({ name }: AddressList): string => {
  const [, use, place] = /^(of|denied)-(.*)$/.exec(name) ?? []
  return place === undefined
    ? name.replaceAll('-', ' ')
    : place === 'device-pages'
      ? 'pages of devices'
      : placeName(site.opened.plan, place) +
        (use === 'denied' ? ', over IPv6 its whole segment' : '')
}
const protocolWords: Partial<Record<Rule['protocol'], string>> = {
  any: 'everything',
  icmp: 'ping',
  'icmpv6-errors': 'ICMPv6 errors',
  'icmpv6-neighbours': 'ICMPv6 between neighbours',
  'icmpv6-routers': 'ICMPv6 of routers',
}
const what = (r: Rule): string =>
  [
    r.states.length > 0 && !r.states.includes('new')
      ? r.states.join(', ')
      : `${protocolWords[r.protocol] ?? r.protocol}${r.ports.length ? ` ${portsInWords(r.ports)}` : ''}`,
    r.family === 'any' || r.protocol.startsWith('icmpv6')
      ? ''
      : r.family === 'ipv4'
        ? 'IPv4'
        : 'IPv6',
    { too: '', only: 'by a port of the line', not: 'not by a port of the line' }[r.forwarded],
    r.hours ? hoursWords(r.hours) : '',
  ]
    .filter(Boolean)
    .join(', ')
const rows = computed(() => rules.value.rules.map((r, i) => ({ ...r, number: i + 1 })))
const columns: readonly Column<(typeof rows.value)[number]>[] = [
  { key: 'number', title: '#', value: (r) => r.number, mono: true },
  { key: 'chain', title: 'Chain', value: (r) => r.chain },
  { key: 'from', title: 'From', value: (r) => zones(r.from, r.sources) },
  {
    key: 'to',
    title: 'To',
    value: (r) => (r.chain === 'input' ? 'the gateway' : zones(r.to, r.destinations)),
  },
  { key: 'what', title: 'What', value: what, mono: true },
  { key: 'verdict', title: 'Verdict', value: (r) => r.verdict },
  { key: 'why', title: 'Why', value: (r) => r.text },
]
/** Who may send by an interface, for the words before the table. */
const guarded = computed(() => rules.value.origins.filter((o) => o.only).length)
</script>

<template>
  <details
    v-if="site.opened.model.segments.length"
    @toggle="
      (e) => {
        opened = (e.target as HTMLDetailsElement).open
      }
    "
  >
    <summary class="label">
      The {{ rules.rules.length }} rules that the gateway gets, in order
    </summary>
    <p class="faint">
      For IPv4 and IPv6. Before them: each of the {{ guarded }} interfaces inside takes only
      addresses of its own segment, the line none of inside (RFC 2827).<template
        v-for="l in narrow"
        :key="l.id"
      >
        TCP is told the smaller packets of {{ l.name }}: {{ l.size.ipv4 }} octets a segment,
        {{ l.size.ipv6 }} over IPv6.</template
      >
    </p>
    <div v-if="opened" class="scroll-x">
      <LazyRowsDataTable
        :rows="rows"
        :columns="columns"
        what="rules"
        :groups="['chain', 'from', 'to', 'verdict']"
      >
        <template #cell-verdict="{ row: r }"
          ><b>{{ r.verdict }}</b></template
        >
        <template #cell-why="{ row: r }"
          ><span class="faint">{{ r.text }}</span></template
        >
      </LazyRowsDataTable>
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  margin: 16px 0 6px;
  font-weight: 600;
}
</style>
