<script setup lang="ts">
/** Where things stand: power, height, position, and who is there with what. */
import { clientKinds, editCall, newId, type Location } from '@mast/core/plan'
import type { Column } from '../rows/column'
import { useBulk } from '../rows/useBulk'

const site = useSite()
const place = ref('')
const locations = computed(() =>
  Object.values(site.opened.plan.locations).sort((a, b) => (a.name < b.name ? -1 : 1)),
)
const kinds = ['building', 'floor', 'cupboard', 'kiosk', 'outdoors', 'roof', 'mast'] as const
const change = (id: string, changes: object): string | undefined =>
  site.edit('changeLocation', { id, changes })
const number = (text: string): number | null => (text === '' ? null : Number(text))
const standing = computed(() => {
  const n = new Map<string, number>()
  for (const d of site.opened.model.devices)
    if (d.locationId) n.set(d.locationId, (n.get(d.locationId) ?? 0) + 1)
  return n
})
function add(): void {
  if (!place.value.trim()) return
  if (
    !site.edit('addLocation', {
      id: newId(site.opened.plan, place.value),
      name: place.value.trim(),
    })
  )
    place.value = ''
}
const clientWords = (l: Location): string =>
  l.clients.map((c) => `${c.count} ${c.kind.replace('-', ' ')}${c.count > 1 ? 's' : ''}`).join(', ')
function saveClients(l: Location, text: string): string | undefined {
  const parts = text
    .split(/[,;]+/)
    .map((t) => t.trim())
    .filter(Boolean)
  const clients = parts.map((t) => {
    const m = /^(\d+)\s+(.+?)s?$/.exec(t)
    const kind = clientKinds.find(
      (k) => k.replace('-', ' ') === m?.[2]?.toLowerCase() || k === m?.[2]?.toLowerCase(),
    )
    return m && kind ? { kind, count: Number(m[1]) } : t
  })
  const bad = clients.find((c) => typeof c === 'string')
  return bad === undefined
    ? change(l.id, { clients })
    : `'${String(bad)}' is not a number and a kind; kinds are ${clientKinds.map((k) => k.replace('-', ' ')).join(', ')}`
}
const position = (l: Location): string =>
  l.latitude === null || l.longitude === null
    ? ''
    : `${Math.abs(l.latitude).toFixed(4)} ${l.latitude < 0 ? 'S' : 'N'}, ` +
      `${Math.abs(l.longitude).toFixed(4)} ${l.longitude < 0 ? 'W' : 'E'}`
/** Decimal degrees, with signs or letters: "57.9031 N, 6.6984 W" or "57.9031 -6.6984". */
function savePosition(l: Location, text: string): string | undefined {
  if (text === '') return change(l.id, { latitude: null, longitude: null })
  const parts = [...text.matchAll(/(-?\d+(?:\.\d+)?)\s*°?\s*([NSEW])?/gi)]
  if (parts.length !== 2)
    return 'a position is two numbers of degrees, for example 57.9031 N, 6.6984 W'
  const [latitude, longitude] = parts.map((m) => Number(m[1]) * (/[SW]/i.test(m[2] ?? '') ? -1 : 1))
  return change(l.id, { latitude, longitude })
}
const heightWords = (l: Location): string =>
  l.heightM === null
    ? ''
    : site.opened.plan.site.units === 'metric'
      ? `${l.heightM} m`
      : `${Math.round(l.heightM * 3.28084)} ft`
const columns: readonly Column<Location>[] = [
  { key: 'name', title: 'Name', value: (l) => l.name },
  { key: 'kind', title: 'Kind', value: (l) => l.kind },
  { key: 'mains', title: 'Mains', value: (l) => (l.mains ? 'in reach' : 'none') },
  { key: 'outlets', title: 'Outlets free', value: (l) => l.outlets ?? '', mono: true },
  { key: 'height', title: 'Height', value: (l) => l.heightM ?? '', text: heightWords, mono: true },
  { key: 'position', title: 'Position', value: position, mono: true },
  {
    key: 'people',
    title: 'People',
    value: (l) => l.people,
    text: (l) => `${l.people || ''} ${clientWords(l)}`.trim(),
    mono: true,
  },
  {
    key: 'stands',
    title: 'Stands there',
    value: (l) => standing.value.get(l.id) ?? '',
    mono: true,
  },
]
const kindItems = kinds.map((k) => ({ title: k, value: k }))
const { refused, all } = useBulk('locations')
</script>

<template>
  <section aria-label="Locations">
    <h2>Locations</h2>
    <p v-if="locations.length === 0" class="faint">
      No place yet. Cupboards, roofs, masts: where equipment stands decides on power, cables and
      radio.
    </p>
    <div v-else class="scroll-x">
      <LazyRowsDataTable
        :rows="locations"
        :columns="columns"
        what="locations"
        :groups="['kind', 'mains']"
        :open="site.selected"
        :hot="site.pointed"
        @open="(id: string) => (site.selected = id)"
      >
        <template #cell-people="{ row: l }"
          ><span :title="clientWords(l)">{{ l.people || '' }}</span></template
        >
        <template #chosen="{ ids, clear }">
          <RowsBulkSelect
            label="Kind"
            :items="kindItems"
            @choose="
              (kind) =>
                all('Change', ids, (id) => editCall('changeLocation', { id, changes: { kind } }))
            "
          />
          <v-btn
            size="small"
            variant="text"
            color="error"
            @click="all('Remove', ids, (id) => editCall('removeLocation', { id })) && clear()"
            >Remove</v-btn
          >
        </template>
        <template #form="{ row: l }">
          <div class="in-place fields">
            <InTurns>
              <FieldsEditField
                label="Name"
                :value="l.name"
                :save="(name) => change(l.id, { name })"
              />
              <v-select
                label="Kind"
                :model-value="l.kind"
                :items="[...kinds]"
                @update:model-value="(kind: string) => change(l.id, { kind })"
              />
              <v-checkbox
                label="Mains in reach"
                :model-value="l.mains"
                @update:model-value="(mains: boolean | null) => change(l.id, { mains: !!mains })"
              />
              <FieldsEditField
                label="Outlets free"
                type="number"
                :value="l.outlets"
                :save="(t) => change(l.id, { outlets: number(t) })"
                mono
              />
              <FieldsEditField
                label="To the outlet"
                type="number"
                suffix="m"
                :value="l.outletDistanceM"
                :save="(t) => change(l.id, { outletDistanceM: number(t) })"
                mono
              />
              <FieldsEditField
                label="Height above ground"
                type="number"
                suffix="m"
                :value="l.heightM"
                :save="(t) => change(l.id, { heightM: number(t) })"
                mono
              />
              <FieldsEditField
                label="Position"
                :value="position(l)"
                hint="degrees, WGS 84"
                :save="(t) => savePosition(l, t)"
                mono
              />
              <FieldsEditField
                label="People at the busiest time"
                type="number"
                :value="l.people"
                :save="(t) => change(l.id, { people: number(t) ?? 0 })"
                mono
              />
              <FieldsEditField
                label="What they bring"
                :value="clientWords(l)"
                hint="20 phones, 6 laptops"
                :save="(t) => saveClients(l, t)"
              />
              <v-btn variant="text" color="error" @click="site.edit('removeLocation', { id: l.id })"
                >Remove</v-btn
              >
            </InTurns>
          </div>
        </template>
      </LazyRowsDataTable>
      <Refusal :says="refused" />
    </div>
    <form class="row no-print mt-2" @submit.prevent="add">
      <v-text-field v-model="place" label="New location" style="max-width: 260px" /><v-btn
        type="submit"
        :disabled="!place.trim()"
        >Add</v-btn
      >
    </form>
  </section>
</template>
