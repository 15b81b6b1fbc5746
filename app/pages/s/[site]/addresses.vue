<script setup lang="ts">
import { writeAddressCsv } from '@mast/core/formats'

const site = useSite()
const unplaced = computed(() => Object.values(site.plan?.segments ?? {}).filter((s) => !s.subnet).map((s) => s.id))
const refused = ref<string | undefined>()
const allocate = (ids: string[]): void => { refused.value = site.edit('allocateSegments', { segmentIds: ids }) }
</script>

<template>
  <ShellSheetFrame stop="addresses" sheet="addresses" question="What is where, and what is left?">
    <template #tools>
      <v-btn v-if="unplaced.length" color="primary" variant="flat" @click="allocate(unplaced)">Allocate {{ unplaced.length }} {{ unplaced.length === 1 ? 'segment' : 'segments' }}</v-btn>
      <v-btn size="small" variant="text" :disabled="!site.plan || unplaced.length === Object.keys(site.plan.segments).length" @click="saveAs('addresses.csv', 'text/csv', writeAddressCsv(site.plan!))">Save CSV</v-btn>
    </template>
    <p v-if="refused" class="mark blockers" style="white-space: normal" role="alert">{{ refused }}</p>
    <AddressesSpaceForm />
    <AddressesRuler />
    <AddressesSegmentTable />
    <AddressesClassifier />
  </ShellSheetFrame>
</template>
