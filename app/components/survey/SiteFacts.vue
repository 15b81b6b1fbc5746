<script setup lang="ts">
import { idFor } from '@mast/core/formats'

const site = useSite()
const facts = computed(() => site.plan!.site)
const change = (changes: object): string | undefined => site.edit('changeSite', changes)
const zones = Intl.supportedValuesOf('timeZone')
const place = ref('')
const kinds = [{ title: 'building', value: 'building' }, { title: 'floor', value: 'floor' }, { title: 'cupboard', value: 'cupboard' }, { title: 'outdoors', value: 'outdoors' }, { title: 'kiosk', value: 'kiosk' }]
function addPlace(): void {
  if (!place.value.trim()) return
  if (!site.edit('addLocation', { id: idFor(place.value, new Set(Object.keys(site.plan!.locations))), name: place.value, kind: 'building', mains: true })) place.value = ''
}
</script>

<template>
  <section aria-label="Site">
    <h2>The site</h2>
    <div class="fields">
      <FieldsEditField label="Name" :value="facts.name" :save="(name) => change({ name })" />
      <FieldsEditField label="Country" :value="facts.country" hint="two letters; it sets the radio rules" :save="(t) => change({ country: t.toUpperCase() })" mono />
      <v-autocomplete label="Time zone" :model-value="facts.timeZone" :items="zones" variant="outlined" density="compact" hide-details @update:model-value="(timeZone) => timeZone && change({ timeZone })" />
      <v-select label="Units" :model-value="facts.units" :items="['metric', 'imperial']" @update:model-value="(units) => change({ units })" />
    </div>
    <h2>Locations</h2>
    <div class="scroll-x">
      <table class="plain">
        <thead><tr><th>Name</th><th>Kind</th><th>Mains in reach</th><th /></tr></thead>
        <tbody>
          <tr v-for="l in site.plan!.locations" :key="l.id">
            <td>{{ l.name }}</td>
            <td><v-select :aria-label="`Kind of ${l.name}`" variant="plain" :model-value="l.kind" :items="kinds" @update:model-value="(kind) => site.edit('changeLocation', { id: l.id, changes: { kind } })" /></td>
            <td><v-checkbox :aria-label="`Mains in reach at ${l.name}`" :model-value="l.mains" @update:model-value="(mains) => site.edit('changeLocation', { id: l.id, changes: { mains } })" /></td>
            <td><v-btn size="small" variant="text" @click="site.edit('removeLocation', { id: l.id })">Remove</v-btn></td>
          </tr>
        </tbody>
      </table>
    </div>
    <form class="row no-print mt-2" @submit.prevent="addPlace"><v-text-field v-model="place" label="New location" style="max-width: 260px" /><v-btn type="submit" :disabled="!place.trim()">Add</v-btn></form>
  </section>
</template>
