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

const site = useSite()
const rules = computed(() => compilePolicy(site.opened.plan))
const narrow = computed(() =>
  uplinksInOrder(site.opened.plan).flatMap(({ id, name, handOff }) => {
    const size = segmentSizeOf(handOff)
    return size ? [{ id, name, size }] : []
  }),
)
const opened = ref(false)
const { shown, rest, more } = useShownRows(() => (opened.value ? rules.value.rules : []))
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
    <div class="scroll-x">
      <table class="plain">
        <thead>
          <tr>
            <th>#</th>
            <th>Chain</th>
            <th>From</th>
            <th>To</th>
            <th>What</th>
            <th>Verdict</th>
            <th>Why</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(r, i) in shown" :key="r.id">
            <td class="mono">{{ i + 1 }}</td>
            <td>{{ r.chain }}</td>
            <td>{{ zones(r.from, r.sources) }}</td>
            <td>{{ r.chain === 'input' ? 'the gateway' : zones(r.to, r.destinations) }}</td>
            <td class="mono">{{ what(r) }}</td>
            <td>
              <b>{{ r.verdict }}</b>
            </td>
            <td class="faint">{{ r.text }}</td>
          </tr>
        </tbody>
      </table>
      <RowsMore :rest="rest" what="rules" @more="more" />
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
