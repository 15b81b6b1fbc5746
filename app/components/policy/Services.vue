<script setup lang="ts">
/**
 * What connections are called: services of the site with their protocol and ports, changed where
 * they stand.
 */
import {
  editCall,
  newId,
  portsInWords,
  readPorts,
  serviceProtocols,
  type Service,
} from '@mast/core/plan'
import type { Column } from '../rows/column'
import { useBulk } from '../rows/useBulk'

const site = useSite()
const services = computed(() =>
  Object.values(site.opened.plan.services).sort((a, b) => a.name.localeCompare(b.name)),
)
const used = computed(
  () =>
    new Set([
      ...Object.values(site.opened.plan.intents).map((i) => i.service),
      ...Object.values(site.opened.plan.devices).flatMap((d) => d.serviceIds),
    ]),
)
const opened = ref(false)
const chosen = ref<string | null>(null)
const words: Partial<Record<Service['protocol'], string>> = { icmp: 'ping' }
const protocols = serviceProtocols.map((p) => ({ title: words[p] ?? p.toUpperCase(), value: p }))
const hasPorts = (p: Service['protocol']): boolean => p === 'tcp' || p === 'udp' || p === 'sctp'
const name = ref('')
const protocol = ref<Service['protocol']>('tcp')
const ports = ref('')
const refused = ref<string | undefined>()

function change(s: Service, changes: Partial<Service>): string | undefined {
  return site.edit('changeService', { id: s.id, changes })
}
function changePorts(s: Service, text: string): string | undefined {
  const read = readPorts(text)
  return read.ok ? change(s, { ports: read.ports }) : read.reason
}
const columns: readonly Column<Service>[] = [
  { key: 'name', title: 'Name', value: (s) => s.name },
  {
    key: 'protocol',
    title: 'Protocol',
    value: (s) => words[s.protocol] ?? s.protocol.toUpperCase(),
  },
  { key: 'ports', title: 'Ports', value: (s) => portsInWords(s.ports), mono: true },
  { key: 'used', title: 'Used', value: (s) => (used.value.has(s.id) ? 'yes' : 'no') },
]
const bulk = useBulk('services')
function remove(ids: readonly string[]): boolean {
  const done = bulk.all(
    'Remove',
    ids.filter((id) => !used.value.has(id)),
    (id) => editCall('removeService', { id }),
  )
  refused.value = bulk.refused.value
  return done
}
/** What has ports does not become what has none, nor the reverse: that is another service. */
const alike = (s: Service): typeof protocols =>
  protocols.filter((p) => hasPorts(p.value) === hasPorts(s.protocol))
function changeProtocol(s: Service, to: Service['protocol']): void {
  refused.value = change(s, { protocol: to })
}
function add(): void {
  const read = readPorts(hasPorts(protocol.value) ? ports.value : '')
  if (!read.ok) {
    refused.value = read.reason
    return
  }
  refused.value = site.edit('addService', {
    id: newId(site.opened.plan, `svc ${name.value}`),
    name: name.value,
    protocol: protocol.value,
    ports: read.ports,
  })
  if (refused.value) return
  name.value = ''
  ports.value = ''
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
    <summary class="label">Services: {{ services.length }} names for protocols and ports</summary>
    <LazyRowsDataTable
      v-if="opened && services.length"
      :rows="services"
      :columns="columns"
      what="services"
      :groups="['protocol']"
      :open="chosen"
      :hot="site.pointed"
      @open="(id: string) => (chosen = id)"
    >
      <template #chosen="{ ids, clear }"
        ><v-btn size="small" variant="text" color="error" @click="remove(ids) && clear()"
          >Remove those not in use</v-btn
        ></template
      >
      <template #form="{ row: s }">
        <div class="in-place fields">
          <FieldsEditField
            label="Name of the service"
            :value="s.name"
            :save="(t) => change(s, { name: t })"
          />
          <v-select
            label="Protocol of the service"
            :model-value="s.protocol"
            :items="alike(s)"
            @update:model-value="(p: Service['protocol']) => changeProtocol(s, p)"
          />
          <FieldsEditField
            v-if="hasPorts(s.protocol)"
            label="Ports of the service"
            :value="portsInWords(s.ports)"
            :save="(t) => changePorts(s, t)"
            mono
          />
          <v-btn
            v-if="!used.has(s.id)"
            variant="text"
            color="error"
            :aria-label="`Remove ${s.name}`"
            @click="refused = site.edit('removeService', { id: s.id })"
            >Remove</v-btn
          >
        </div>
      </template>
    </LazyRowsDataTable>
    <form class="row mt-2" aria-label="Add a service" @submit.prevent="add">
      <v-text-field v-model="name" label="Name" maxlength="80" style="max-width: 200px" /><v-select
        v-model="protocol"
        label="Protocol"
        :items="protocols"
        style="max-width: 130px"
      />
      <v-text-field
        v-if="hasPorts(protocol)"
        v-model="ports"
        label="Ports"
        placeholder="80, 443, 5000-5010"
        style="max-width: 220px"
      /><v-btn type="submit" :disabled="!name.trim()">Add it</v-btn>
    </form>
    <Refusal :says="refused" />
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  margin: 16px 0 6px;
  font-weight: 600;
}
</style>
