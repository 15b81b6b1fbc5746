<script setup lang="ts">
import { catalogue, editCall, newId, nextName, type Device } from '@mast/core/plan'
import { normalHardwareAddress } from '@mast/core/formats'
import { serialComplaint } from '@mast/core/survey'
import { onWish } from '~/composables/useWish'
import type { Column } from '../rows/column'
import { useBulk } from '../rows/useBulk'

const site = useSite()
const devices = computed(() => site.model?.devices ?? [])
const locations = useStable(() => [
  { title: 'nowhere yet', value: null },
  ...Object.values(site.plan?.locations ?? {}).map((l) => ({ title: l.name, value: l.id })),
])
const profiles = useStable(() =>
  [
    ...new Map(
      [...Object.values(catalogue), ...Object.values(site.plan?.profiles ?? {})].map((p) => [
        p.id,
        { title: p.name, value: p.id },
      ]),
    ).values(),
  ].sort((a, b) => (a.title < b.title ? -1 : 1)),
)
const adding = ref(false)
const name = ref('')
const profileId = ref<string>('gateway-4-2')
const refused = ref<string | undefined>()
onWish('device', () => {
  adding.value = true
})
const reading = ref<'serial' | 'hardware address' | null>(null)
const importing = ref<File | null>(null)
watch(
  () => site.selected,
  () => {
    reading.value = null
    refused.value = undefined
  },
)
const columns: readonly Column<Device>[] = [
  { key: 'name', title: 'Name', value: (d) => `${d.name}${d.stays ? ' stays' : ''}` },
  { key: 'profile', title: 'Profile', value: (d) => site.opened.model.profileOf(d.id).name },
  { key: 'serial', title: 'Serial', value: (d) => d.serial ?? '', mono: true },
  { key: 'address', title: 'Hardware address', value: (d) => d.hardwareAddress ?? '', mono: true },
  {
    key: 'place',
    title: 'Stands in',
    value: (d) => site.opened.plan.locations[d.locationId ?? '']?.name ?? '',
  },
  {
    key: 'power',
    title: 'Power from',
    value: (d) => powers.find((p) => p.value === d.power)!.title,
  },
]
const { refused: notDone, all } = useBulk('devices')
const changeAll = (ids: readonly string[], changes: object): boolean =>
  all('Change', ids, (id) => editCall('changeDevice', { id, changes }))
const removeAll = (ids: readonly string[]): boolean =>
  all('Remove', ids, (id) => editCall('removeDevice', { id }))

function add(): void {
  refused.value = site.edit('addDevice', {
    id: newId(site.opened.plan, name.value),
    name: name.value,
    profileId: profileId.value,
  })
  if (!refused.value) {
    name.value = ''
    adding.value = false
  }
}
/** All but name, address, coordinates and label. */
function addLike(d: Device): void {
  const { plan } = site.opened
  const next = nextName(plan, d.name)
  refused.value = site.edit('addDeviceLike', { likeId: d.id, id: newId(plan, next), name: next })
}
const others = (d: Device) =>
  devices.value
    .filter((x) => x.profileId === d.profileId && x.id !== d.id)
    .map((x) => ({ title: x.name, value: x.id }))
const change = (id: string, changes: object): string | undefined =>
  site.edit('changeDevice', { id, changes })
function saveAddress(id: string, text: string): string | undefined {
  const normal = normalHardwareAddress(text)
  return normal === undefined
    ? `'${text}' is not a hardware address; expected for example 02:00:5e:10:00:01`
    : change(id, { hardwareAddress: normal })
}
function saveSerial(d: Device, text: string): string | undefined {
  const serial = text.trim().toUpperCase()
  if (!serial) return change(d.id, { serial: null })
  return (
    serialComplaint(serial, site.opened.model.profileOf(d.id).serialShape) ??
    change(d.id, { serial })
  )
}
/** What a label gave, into the field that asked for it. */
function take(d: Device, text: string): void {
  refused.value = reading.value === 'serial' ? saveSerial(d, text) : saveAddress(d.id, text)
  if (!refused.value) reading.value = null
}
const powers = [
  { title: 'an outlet', value: 'outlet' },
  { title: 'its cable (PoE)', value: 'poe' },
  { title: 'an injector', value: 'injector' },
  { title: 'a battery', value: 'battery' },
]
const saveInFormat = useSaveInFormat()
const pick = (file: File | File[] | null): void => {
  importing.value = (Array.isArray(file) ? file[0] : file) ?? null
}
</script>

<template>
  <section aria-label="Equipment">
    <div class="row spread">
      <h2>
        Equipment <span class="faint">{{ devices.length }}</span>
      </h2>
      <div class="row no-print">
        <v-btn size="small" @click="adding = !adding">Add a device</v-btn>
        <v-file-input
          class="file"
          label="Import CSV"
          accept=".csv,text/csv"
          density="compact"
          hide-details
          prepend-icon=""
          :model-value="importing ?? undefined"
          @update:model-value="pick"
        />
        <v-btn
          size="small"
          variant="text"
          :disabled="devices.length === 0"
          @click="saveInFormat('equipment-csv')"
          >Save CSV</v-btn
        >
      </div>
    </div>
    <form v-if="adding" class="in-place row" @submit.prevent="add">
      <v-text-field v-model="name" label="Name" style="min-width: 200px" autofocus />
      <v-select v-model="profileId" label="Profile" :items="profiles" style="min-width: 220px" />
      <v-btn type="submit" color="primary" :disabled="!name.trim()">Add</v-btn>
      <Refusal :says="refused" />
    </form>
    <SurveyEquipmentImport v-if="importing" :file="importing" @close="importing = null" />
    <p v-if="devices.length === 0" class="lead">
      No equipment yet. Import a list with the columns
      <span class="mono">name, profile, serial, hardware address, firmware, location</span>, or add
      devices one by one; start with the gateway.
    </p>
    <div v-else class="scroll-x">
      <LazyRowsDataTable
        :rows="devices"
        :columns="columns"
        what="devices"
        :groups="['place', 'profile', 'power']"
        :open="site.selected"
        :hot="site.pointed"
        @open="(id: string) => (site.selected = id)"
      >
        <template #chosen="{ ids, clear }">
          <RowsBulkSelect
            label="Stand in"
            :items="locations"
            @choose="(locationId) => changeAll(ids, { locationId })"
          />
          <RowsBulkSelect
            label="Power from"
            :items="powers"
            @choose="(power) => changeAll(ids, { power })"
          />
          <v-btn size="small" variant="text" color="error" @click="removeAll(ids) && clear()"
            >Remove with their cables</v-btn
          >
        </template>
        <template #form="{ row: d }">
          <div class="in-place fields">
            <InTurns>
              <FieldsEditField
                label="Name"
                :value="d.name"
                :save="(t) => change(d.id, { name: t })"
              />
              <div class="row nowrap">
                <FieldsEditField
                  label="Serial"
                  :value="d.serial"
                  :hint="site.opened.model.profileOf(d.id).serialShape ?? undefined"
                  :save="(t) => saveSerial(d, t)"
                  mono
                /><v-btn
                  size="small"
                  variant="text"
                  title="Read the serial off its label"
                  @click="reading = 'serial'"
                  >Read</v-btn
                >
              </div>
              <div class="row nowrap">
                <FieldsEditField
                  label="Hardware address"
                  :value="d.hardwareAddress"
                  :save="(t) => saveAddress(d.id, t)"
                  mono
                /><v-btn
                  size="small"
                  variant="text"
                  title="Read the hardware address off its label"
                  @click="reading = 'hardware address'"
                  >Read</v-btn
                >
              </div>
              <FieldsEditField
                label="Firmware as found"
                :value="d.firmware"
                :save="(t) => change(d.id, { firmware: t || null })"
                mono
              />
              <v-select
                label="Profile"
                :model-value="d.profileId"
                :items="profiles"
                hint="another one is another box: cables and address stay, its label is read anew"
                persistent-hint
                @update:model-value="
                  (profileId) => {
                    refused = site.edit('replaceDevice', { id: d.id, profileId })
                  }
                "
              />
              <v-select
                label="Stands in"
                :model-value="d.locationId"
                :items="locations"
                @update:model-value="(locationId) => change(d.id, { locationId })"
              />
              <v-select
                label="Power from"
                :model-value="d.power"
                :items="powers"
                @update:model-value="(power) => change(d.id, { power })"
              />
              <v-select
                v-if="site.opened.model.profileOf(d.id).licences.length"
                label="Licences it has"
                multiple
                :model-value="d.licencesHeld"
                :items="
                  site.model!.profileOf(d.id).licences.map((l) => ({ title: l.name, value: l.id }))
                "
                @update:model-value="(licencesHeld) => change(d.id, { licencesHeld })"
              />
              <v-checkbox
                label="It was here and stays"
                :model-value="d.stays"
                @update:model-value="(stays) => change(d.id, { stays: !!stays })"
              />
              <SurveyWatchdog v-if="site.opened.model.profileOf(d.id).adoptable" :device="d" />
              <v-btn variant="text" @click="addLike(d)">Another like it</v-btn>
              <v-select
                v-if="others(d).length"
                label="Set it like"
                :model-value="null"
                :items="others(d)"
                @update:model-value="
                  (likeId) => {
                    if (likeId) refused = site.edit('takeAfter', { likeId, id: d.id })
                  }
                "
              />
              <v-btn variant="text" color="error" @click="site.edit('removeDevice', { id: d.id })"
                >Remove with its cables</v-btn
              >
              <LazySurveyLabelReader
                v-if="reading"
                class="wide"
                :what="reading"
                @read="(t) => take(d, t)"
                @close="reading = null"
              />
              <Refusal :says="refused" class="wide" />
            </InTurns>
          </div>
        </template>
      </LazyRowsDataTable>
      <Refusal :says="notDone" />
    </div>
  </section>
</template>

<style scoped>
.file {
  width: 150px;
}
.nowrap {
  flex-wrap: nowrap;
  align-items: flex-start;
  gap: 2px;
}
.wide {
  grid-column: 1 / -1;
  white-space: normal;
}
</style>
