<script setup lang="ts">
/** The address plan out to and in from the files of other programs. Reading shows first what it would do. */
import { decodeText, importOf, MAX_CSV_OCTETS, readAddressCsv, readDnsmasq, readKea, readNetplan, readZone, writeAddressCsv, writeDnsmasq, writeKea, writeNetplan, writeZones, type AddressFile } from '@mast/core/formats'
import { zipSync, strToU8 } from 'fflate'

type Format = 'csv' | 'kea' | 'dnsmasq' | 'zone' | 'netplan'
const site = useSite()
const read = ref<{ name: string; format: Format; file: AddressFile; others: { line: number; text: string }[] } | null>(null)
const plan = computed(() => (read.value ? importOf(site.plan!, read.value.file) : null))
const refused = ref<string | undefined>()
const formats = [{ title: 'CSV', value: 'csv' }, { title: 'Kea (DHCP), JSON', value: 'kea' }, { title: 'dnsmasq (DHCP and names)', value: 'dnsmasq' }, { title: 'zone files (names)', value: 'zone' }, { title: 'netplan (hosts)', value: 'netplan' }]
const format = ref<Format>('csv')

function save(): void {
  const model = site.model!
  if (format.value === 'csv') saveAs('addresses.csv', 'text/csv', writeAddressCsv(site.plan!))
  else if (format.value === 'kea') saveAs('kea-dhcp4.conf', 'application/json', writeKea(model))
  else if (format.value === 'dnsmasq') saveAs('dnsmasq.conf', 'text/plain', writeDnsmasq(model))
  else {
    const files = format.value === 'zone' ? Object.fromEntries(Object.entries(writeZones(model, site.revision)).map(([z, t]) => [`${z}.zone`, t])) : writeNetplan(model)
    if (Object.keys(files).length === 0) { refused.value = format.value === 'zone' ? 'the site has no domain inside; set one above' : 'no host of the plan has a cable and a segment'; return }
    saveOctetsAs(`${format.value}.zip`, 'application/zip', zipSync(Object.fromEntries(Object.entries(files).map(([n, t]) => [n, strToU8(t)]))))
  }
  refused.value = undefined
}
/** What a file is, from its name and its content. */
function kindOf(name: string, text: string): Format {
  if (/\.ya?ml$/i.test(name) || /^\s*network:/m.test(text)) return 'netplan'
  if (/"Dhcp4"/.test(text)) return 'kea'
  if (/^\s*dhcp-(range|host|option)=/m.test(text)) return 'dnsmasq'
  if (/\bIN\s+(SOA|A|AAAA)\b/.test(text) || /^\$(ORIGIN|TTL)/m.test(text)) return 'zone'
  return 'csv'
}
async function pick(chosen: File | File[] | null): Promise<void> {
  const file = Array.isArray(chosen) ? chosen[0] : chosen
  refused.value = undefined
  if (!file) { read.value = null; return }
  if (file.size > MAX_CSV_OCTETS) { refused.value = `${file.name} is larger than ${MAX_CSV_OCTETS / 1e6} MB; split it`; return }
  const decoded = decodeText(new Uint8Array(await file.arrayBuffer()))
  if ('problem' in decoded) { refused.value = `${file.name}, line ${decoded.problem.line}: ${decoded.problem.reason}`; return }
  const { text } = decoded
  const kind = kindOf(file.name, text)
  const nothing = { rows: [], reservations: [], leftOut: [] }
  const byName = new Map(Object.values(site.plan!.devices).map((d) => [d.name.toLowerCase().replace(/[^a-z0-9]+/g, '-'), d]))
  if (kind === 'zone') {
    const zone = readZone(text, file.name.replace(/\.zone$/, ''))
    const known = zone.records.filter((r) => r.type === 'A').map((r) => ({ r, device: byName.get(r.name.split('.')[0]!) }))
    read.value = { name: file.name, format: kind, file: { ...nothing, leftOut: zone.leftOut, problems: zone.problems, reservations: known.flatMap(({ r, device }) => (device?.hardwareAddress ? [{ line: r.line, hardwareAddress: device.hardwareAddress, address: r.data, name: r.name }] : [])) }, others: known.filter((k) => !k.device).map(({ r }) => ({ line: r.line, text: `${r.name} ${r.data}` })) }
  } else if (kind === 'netplan') {
    const netplan = readNetplan(text)
    read.value = { name: file.name, format: kind, file: { ...nothing, problems: netplan.problems, reservations: netplan.addresses.flatMap((a) => (a.hardwareAddress ? [{ line: a.line, hardwareAddress: a.hardwareAddress, address: a.address, name: a.interfaceName }] : [])) }, others: netplan.addresses.filter((a) => !a.hardwareAddress).map((a) => ({ line: a.line, text: `${a.interfaceName} ${a.address}/${a.length}: no macaddress, so nobody knows whose it is` })) }
  } else read.value = { name: file.name, format: kind, file: kind === 'kea' ? readKea(text) : kind === 'dnsmasq' ? readDnsmasq(text) : readAddressCsv(text), others: [] }
}
function bringIn(): void {
  refused.value = site.mend(plan.value!.edits)
  if (!refused.value) read.value = null
}
const words = computed(() => {
  const p = plan.value!
  return [p.adds ? `${p.adds} new ${p.adds === 1 ? 'segment' : 'segments'}` : '', p.changes ? `${p.changes} changed` : '', p.same ? `${p.same} the same` : '', p.reservations ? `${p.reservations} ${p.reservations === 1 ? 'reservation' : 'reservations'}` : ''].filter(Boolean).join(', ') || 'nothing'
})
</script>

<template>
  <section class="no-print" aria-label="Address files">
    <h2>Out and in</h2>
    <div class="row">
      <v-select v-model="format" label="Format" :items="formats" style="max-width: 240px" /><v-btn @click="save">Save the file</v-btn>
      <v-file-input label="Read an address plan" density="compact" hide-details prepend-icon="" style="max-width: 230px" accept=".csv,.json,.conf,.zone,.yaml,.yml,.txt,text/plain,text/csv,application/json" @update:model-value="pick" />
    </div>
    <div v-if="read && plan" class="in-place" aria-label="What the address file says">
      <p><b>{{ read.name }}</b>: {{ words }}{{ read.file.problems.length ? `; ${read.file.problems.length} ${read.file.problems.length === 1 ? 'line' : 'lines'} cannot be used` : '' }}.</p>
      <ul v-if="read.file.problems.length"><li v-for="(p, i) in read.file.problems.slice(0, 12)" :key="i" class="wrong"><span class="mono">line {{ p.line }}, column {{ p.column }}</span> {{ p.reason }}</li></ul>
      <p v-if="read.file.problems.length > 12" class="faint">and {{ read.file.problems.length - 12 }} more</p>
      <ul v-if="plan.strangers.length || read.others.length || read.file.leftOut.length">
        <li v-for="s in plan.strangers.slice(0, 6)" :key="`s${s.line}`" class="faint"><span class="mono">line {{ s.line }}</span> {{ s.hardwareAddress }} is no device of the plan</li>
        <li v-for="o in read.others.slice(0, 6)" :key="`o${o.line}`" class="faint"><span class="mono">line {{ o.line }}</span> {{ o.text }}</li>
        <li v-for="(l, i) in read.file.leftOut.slice(0, 6)" :key="`l${i}`" class="faint"><span class="mono">line {{ l.line }}</span> left out: {{ l.reason }}</li>
      </ul>
      <div class="row"><v-btn color="primary" :disabled="plan.edits.length === 0" @click="bringIn">Bring {{ plan.edits.length }} {{ plan.edits.length === 1 ? 'change' : 'changes' }} in</v-btn><v-btn variant="text" @click="read = null">Leave it</v-btn></div>
    </div>
    <p v-if="refused" class="mark blockers" role="alert" style="white-space: normal">{{ refused }}</p>
  </section>
</template>

<style scoped>.wrong { color: var(--blocker); } ul { padding-left: 18px; font-size: 13px; }</style>
