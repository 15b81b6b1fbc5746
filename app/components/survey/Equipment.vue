<script setup lang="ts">
import { catalogue } from '@mast/core/plan'
import { idFor, normalHardwareAddress, readEquipmentCsv, writeEquipmentCsv, type EquipmentCsv } from '@mast/core/formats'

const site = useSite()
const devices = computed(() => site.model?.devices ?? [])
const locations = computed(() => [{ title: 'nowhere yet', value: null }, ...Object.values(site.plan?.locations ?? {}).map((l) => ({ title: l.name, value: l.id }))])
const adding = ref(false)
const name = ref('')
const profileId = ref<string>('gateway-4-2')
const refused = ref<string | undefined>()
const read = ref<EquipmentCsv | null>(null)
const fileName = ref('')
const good = computed(() => read.value?.rows.flatMap((r) => (r.device ? [r.device] : [])) ?? [])

function add(): void {
  refused.value = site.edit('addDevice', { id: idFor(name.value, new Set(Object.keys(site.plan!.devices))), name: name.value, profileId: profileId.value })
  if (!refused.value) { name.value = ''; adding.value = false }
}
async function pick(file: File | File[] | null): Promise<void> {
  const chosen = Array.isArray(file) ? file[0] : file
  if (!chosen) { read.value = null; return }
  fileName.value = chosen.name
  read.value = readEquipmentCsv(await chosen.text(), site.plan!)
}
function importGood(): void {
  refused.value = site.edit('addDevices', { devices: good.value })
  if (!refused.value) read.value = null
}
const change = (id: string, changes: object): string | undefined => site.edit('changeDevice', { id, changes })
function saveAddress(id: string, text: string): string | undefined {
  const normal = normalHardwareAddress(text)
  return normal === undefined ? `'${text}' is not a hardware address; expected for example 02:00:5e:10:00:01` : change(id, { hardwareAddress: normal })
}
const download = (): void => saveAs('equipment.csv', 'text/csv', writeEquipmentCsv(site.plan!))
</script>

<template>
  <section aria-label="Equipment">
    <div class="row spread">
      <h2>Equipment <span class="faint">{{ devices.length }}</span></h2>
      <div class="row no-print">
        <v-btn size="small" @click="adding = !adding">Add a device</v-btn>
        <v-file-input class="file" label="Import CSV" accept=".csv,text/csv" density="compact" hide-details prepend-icon="" @update:model-value="pick" />
        <v-btn size="small" variant="text" :disabled="devices.length === 0" @click="download">Save CSV</v-btn>
      </div>
    </div>
    <form v-if="adding" class="in-place row" @submit.prevent="add">
      <v-text-field v-model="name" label="Name" style="min-width: 200px" autofocus />
      <v-select v-model="profileId" label="Profile" :items="Object.values(catalogue).map((p) => ({ title: p.name, value: p.id }))" style="min-width: 220px" />
      <v-btn type="submit" color="primary" :disabled="!name.trim()">Add</v-btn>
      <p v-if="refused" class="mark blockers" role="alert">{{ refused }}</p>
    </form>
    <div v-if="read" class="in-place" aria-label="What the file says">
      <p><b>{{ fileName }}</b>: {{ good.length }} of {{ read.rows.length }} rows can be imported<template v-if="read.problems.length">; {{ read.problems.length }} {{ read.problems.length === 1 ? 'remark' : 'remarks' }}</template>.</p>
      <ul v-if="read.problems.length"><li v-for="(p, i) in read.problems.slice(0, 12)" :key="i" class="blockers"><span class="mono">line {{ p.line }}, column {{ p.column }}</span> {{ p.reason }}</li></ul>
      <div class="row"><v-btn color="primary" :disabled="good.length === 0" @click="importGood">Import {{ good.length }}</v-btn><v-btn variant="text" @click="read = null">Leave it</v-btn></div>
      <p v-if="refused" class="mark blockers" role="alert">{{ refused }}</p>
    </div>
    <p v-if="devices.length === 0" class="lead">No equipment yet. Import a list with the columns <span class="mono">name, profile, serial, hardware address, firmware, location</span>, or add devices one by one; start with the gateway.</p>
    <div v-else class="scroll-x">
      <table class="plain">
        <thead><tr><th>Name</th><th>Profile</th><th>Serial</th><th>Hardware address</th><th>Stands in</th></tr></thead>
        <tbody>
          <template v-for="d in devices" :key="d.id">
            <tr :class="{ selected: site.selected === d.id || site.pointed.includes(d.id) }" tabindex="0" @click="site.selected = d.id" @keydown.enter="site.selected = d.id">
              <td>{{ d.name }}</td><td>{{ site.model!.profileOf(d.id).name }}</td><td class="mono">{{ d.serial ?? '' }}</td><td class="mono">{{ d.hardwareAddress ?? '' }}</td><td>{{ d.locationId ? site.plan!.locations[d.locationId]?.name : '' }}</td>
            </tr>
            <tr v-if="site.selected === d.id" class="form-row">
              <td colspan="5">
                <div class="in-place fields">
                  <FieldsEditField label="Name" :value="d.name" :save="(t) => change(d.id, { name: t })" />
                  <FieldsEditField label="Serial" :value="d.serial" :save="(t) => change(d.id, { serial: t ? t.toUpperCase() : null })" mono />
                  <FieldsEditField label="Hardware address" :value="d.hardwareAddress" :save="(t) => saveAddress(d.id, t)" mono />
                  <FieldsEditField label="Firmware as found" :value="d.firmware" :save="(t) => change(d.id, { firmware: t || null })" mono />
                  <v-select label="Stands in" :model-value="d.locationId" :items="locations" @update:model-value="(locationId) => change(d.id, { locationId })" />
                  <v-btn variant="text" color="error" @click="site.edit('removeDevice', { id: d.id })">Remove with its cables</v-btn>
                </div>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.file { width: 150px; } .form-row td { height: auto; }
.blockers { color: var(--blocker); }
</style>
