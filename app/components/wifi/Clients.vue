<script setup lang="ts">
/** Kinds of client: what they know, what they send with, what they need. */
import { newId, type ClientType } from '@mast/core/plan'
import { bands, generations, letterOf, widths } from '@mast/core/radio'

const site = useSite()
const clients = computed(() => Object.values(site.opened.plan.clientTypes))
const refused = ref<string | undefined>()
const change = (id: string, changes: Partial<ClientType>): string | undefined =>
  (refused.value = site.edit('changeClientType', { id, changes }))
const name = ref('')
function add(): void {
  refused.value = site.edit('addClientType', {
    id: newId(site.opened.plan, name.value),
    name: name.value.trim(),
  })
  if (!refused.value) name.value = ''
}
const generationItems = generations.map((value) => ({ title: `802.11${letterOf[value]}`, value }))
const bandItems = bands.map((value) => ({ title: `${value} GHz`, value }))
const widthItems = widths.map((value) => ({ title: `${value} MHz`, value }))
const heads = (id: string): number =>
  Object.values(site.opened.plan.areas)
    .filter((a) => a.clientTypeId === id)
    .reduce((sum, a) => sum + a.heads, 0)
</script>

<template>
  <details>
    <summary>{{ clients.length }} {{ clients.length === 1 ? 'kind' : 'kinds' }} of client</summary>
    <div v-for="c in clients" :key="c.id" class="row" role="group" :aria-label="c.name">
      <FieldsEditField
        label="Kind of client"
        :value="c.name"
        :hint="`${heads(c.id)} people have one`"
        :save="(t) => change(c.id, { name: t })"
      />
      <v-select
        label="Knows up to"
        :model-value="c.generation"
        :items="generationItems"
        style="max-width: 150px"
        @update:model-value="(generation) => change(c.id, { generation })"
      />
      <v-select
        label="Bands"
        :model-value="c.bands"
        :items="bandItems"
        multiple
        style="max-width: 220px"
        @update:model-value="(list) => change(c.id, { bands: [...list] })"
      />
      <v-select
        label="Width"
        :model-value="c.widthMhz"
        :items="widthItems"
        style="max-width: 130px"
        @update:model-value="(widthMhz) => change(c.id, { widthMhz })"
      />
      <FieldsEditField
        label="Streams"
        type="number"
        :value="c.streams"
        :save="(t) => change(c.id, { streams: Number(t) })"
        mono
      />
      <FieldsEditField
        label="Sends with, dBm"
        type="number"
        :value="c.powerDbm"
        :save="(t) => change(c.id, { powerDbm: Number(t) })"
        mono
      />
      <FieldsEditField
        label="Joins from, dBm"
        type="number"
        :value="c.leastDbm"
        :save="(t) => change(c.id, { leastDbm: Number(t) })"
        mono
      />
      <FieldsEditField
        label="Needs, Mbit/s"
        type="number"
        :value="c.needMbps"
        :save="(t) => change(c.id, { needMbps: Number(t) })"
        mono
      />
      <v-checkbox
        label="knows WPA3"
        :model-value="c.knowsWpa3"
        @update:model-value="(v) => change(c.id, { knowsWpa3: v === true })"
      />
      <v-btn
        size="small"
        variant="text"
        class="no-print"
        :aria-label="`Remove ${c.name}`"
        @click="refused = site.edit('removeClientType', { id: c.id })"
        >Remove</v-btn
      >
    </div>
    <form class="row no-print" @submit.prevent="add">
      <v-text-field v-model="name" label="New kind of client" style="max-width: 240px" />
      <v-btn type="submit" :disabled="!name.trim()">Add it</v-btn>
    </form>
    <Refusal :says="refused" />
  </details>
</template>

<style scoped>
.row {
  margin-top: 14px;
}
</style>
