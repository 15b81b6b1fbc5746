<script setup lang="ts">
/**
 * What connections are called: services of the site with their protocol and ports, changed where
 * they stand.
 */
import { portsInWords, readPorts, serviceProtocols, type Service, newId } from '@mast/core/plan'

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
const { shown, rest, more } = useShownRows(() => (opened.value ? services.value : []))
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
    <table v-if="shown.length" class="plain services" aria-label="Services">
      <thead>
        <tr>
          <th>Name</th>
          <th>Protocol</th>
          <th>Ports</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in shown" :key="s.id">
          <td>
            <FieldsEditField
              label="Name of the service"
              :value="s.name"
              :save="(t) => change(s, { name: t })"
            />
          </td>
          <td>
            <v-select
              label="Protocol"
              :model-value="s.protocol"
              :items="alike(s)"
              @update:model-value="(p) => changeProtocol(s, p)"
            />
          </td>
          <td>
            <FieldsEditField
              v-if="hasPorts(s.protocol)"
              label="Ports"
              :value="portsInWords(s.ports)"
              :save="(t) => changePorts(s, t)"
              mono
            />
          </td>
          <td>
            <v-btn
              v-if="!used.has(s.id)"
              size="small"
              variant="text"
              :aria-label="`Remove ${s.name}`"
              @click="refused = site.edit('removeService', { id: s.id })"
              >Remove</v-btn
            ><span v-else class="faint">in use</span>
          </td>
        </tr>
      </tbody>
    </table>
    <RowsMore :rest="rest" what="services" @more="more" />
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
.services :is(td, th) {
  padding: 12px 10px 8px 0;
  vertical-align: top;
}
.services th {
  padding-bottom: 0;
}
</style>
