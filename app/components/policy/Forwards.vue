<script setup lang="ts">
/**
 * Ports of the line that lead to hosts inside: what the internet reaches here, and nothing else.
 */
import { inPlan, newId, readPorts, type Forward } from '@mast/core/plan'
import { compilePolicy } from '@mast/core/policy'
import type { Column } from '../rows/column'

const site = useSite()
const forwards = computed(() =>
  Object.values(site.opened.plan.forwards).sort(
    (a, b) => a.outside.first - b.outside.first || a.name.localeCompare(b.name),
  ),
)
const inRules = computed(() => new Set(compilePolicy(site.opened.plan).forwards.map((f) => f.id)))
const hosts = useStable(() =>
  site
    .model!.devices.filter((d) => d.addressing.segmentId)
    .map((d) => ({ title: d.name, value: d.id })),
)
const span = (f: Forward): string =>
  f.outside.first === f.outside.last
    ? String(f.outside.first)
    : `${f.outside.first}-${f.outside.last}`
const hostWords = (f: Forward): string => {
  const { name, addressing } = inPlan(site.opened.plan.devices, f.deviceId)
  return `${name} ${addressing.address ?? 'no address'}:${f.inside}`
}
const columns: readonly Column<Forward>[] = [
  { key: 'name', title: 'Name', value: (f) => f.name },
  {
    key: 'outside',
    title: 'On the line',
    value: (f) => f.outside.first,
    text: (f) => `${f.protocol} ${span(f)}`,
    mono: true,
  },
  { key: 'to', title: 'To', value: hostWords },
  { key: 'why', title: 'Why', value: (f) => f.reason },
  {
    key: 'rules',
    title: 'In the rules',
    value: (f) => (inRules.value.has(f.id) ? 'yes' : 'left out'),
  },
  { key: 'acts', title: '', value: () => '', isUnsorted: true },
]
const opened = ref(false)
const draft = reactive({
  name: '',
  protocol: 'tcp' as Forward['protocol'],
  outside: '',
  deviceId: null as string | null,
  inside: '',
  reason: '',
})
const refused = ref<string | undefined>()

function readSpan(text: string): { first: number; last: number } | string {
  const read = readPorts(text)
  if (!read.ok) return read.reason
  const [only, ...others] = read.ports
  if (only === undefined || others.length > 0)
    return 'one port or one span is needed, for example 8443 or 5000-5010'
  return typeof only === 'number' ? { first: only, last: only } : only
}
function add(): void {
  const outside = readSpan(draft.outside)
  if (typeof outside === 'string') {
    refused.value = outside
    return
  }
  const { deviceId } = draft
  if (!deviceId) {
    refused.value = 'choose the host that it leads to'
    return
  }
  const inside = draft.inside.trim() ? Number(draft.inside) : outside.first
  refused.value = site.edit('addForward', {
    id: newId(site.opened.plan, `fwd ${draft.name}`),
    name: draft.name,
    protocol: draft.protocol,
    outside,
    deviceId,
    inside,
    reason: draft.reason,
  })
  if (!refused.value)
    Object.assign(draft, { name: '', outside: '', deviceId: null, inside: '', reason: '' })
}
</script>

<template>
  <details
    @toggle="
      (e) => {
        opened = (e.target as HTMLDetailsElement).open
      }
    "
  >
    <summary class="label">
      Port forwards:
      {{
        forwards.length
          ? `${forwards.length} that the internet can ask`
          : 'none, so the internet reaches nothing inside over IPv4'
      }}
    </summary>
    <template v-if="opened">
      <p class="faint">
        Who asks from inside by the address of the line gets there too. Whoever has the port has the
        host: a tunnel is the safer way for people who are known.
      </p>
      <div class="scroll-x" role="group" aria-label="Port forwards">
        <LazyRowsDataTable
          v-if="forwards.length"
          :rows="forwards"
          :columns="columns"
          what="forwards"
          :open="site.selected"
          :hot="site.pointed"
        >
          <template #cell-why="{ row: f }"
            ><span class="faint">{{ f.reason }}</span></template
          >
          <template #cell-acts="{ row: f }"
            ><v-btn
              class="no-print"
              size="small"
              variant="text"
              :aria-label="`Remove ${f.name}`"
              @click="refused = site.edit('removeForward', { id: f.id })"
              >Remove</v-btn
            ></template
          >
        </LazyRowsDataTable>
      </div>
      <form class="row mt-2 no-print" aria-label="Add a port forward" @submit.prevent="add">
        <v-text-field
          v-model="draft.name"
          label="Name"
          maxlength="80"
          style="max-width: 180px"
        /><v-select
          v-model="draft.protocol"
          label="Protocol"
          :items="[
            { title: 'TCP', value: 'tcp' },
            { title: 'UDP', value: 'udp' },
          ]"
          style="max-width: 110px"
        />
        <v-text-field
          v-model="draft.outside"
          label="Port on the line"
          placeholder="8443"
          style="max-width: 140px"
        /><v-autocomplete
          v-model="draft.deviceId"
          label="Host"
          :items="hosts"
          style="max-width: 220px"
        />
        <v-text-field
          v-model="draft.inside"
          label="Its port"
          placeholder="the same"
          persistent-placeholder
          style="max-width: 110px"
        /><v-text-field
          v-model="draft.reason"
          label="Why"
          maxlength="200"
          style="max-width: 220px"
        />
        <v-btn
          type="submit"
          :disabled="!draft.name.trim() || !draft.outside.trim() || !draft.deviceId"
          >Add it</v-btn
        >
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
