<script setup lang="ts">
/** What to bring, what it costs to run, what is still locked. */
import { billOfMaterials, energyOf, HOURS_A_YEAR, licencesOf } from '@mast/core/survey'
import type { Column } from '../rows/column'

const site = useSite()
/** All of it is reckoned from the whole plan, so it follows an edit in a turn of its own. */
const model = useLater(() => site.opened.model)
const lines = computed(() =>
  billOfMaterials(model.value).map((l) => ({ ...l, id: `${l.group} ${l.what}` })),
)
const energy = computed(() => energyOf(model.value))
const licences = computed(() =>
  licencesOf(model.value).map((l) => ({ ...l, id: `${l.device.id} ${l.licence.id}` })),
)
const round = (n: number): string => (n < 10 ? n.toFixed(1) : countText(Math.round(n)))
const saveInFormat = useSaveInFormat()
const short = (runs: readonly string[]): string =>
  runs.length > 3 ? `${runs.slice(0, 3).join(', ')} and ${runs.length - 3} more` : runs.join(', ')
const columns: readonly Column<(typeof lines.value)[number]>[] = [
  { key: 'group', title: 'Group', value: (l) => l.group },
  { key: 'what', title: 'What', value: (l) => l.what },
  { key: 'count', title: 'Count', value: (l) => l.count, mono: true },
  {
    key: 'length',
    title: 'Length',
    value: (l) => l.lengthM ?? 0,
    text: (l) => (l.lengthM === null ? '' : `${l.lengthM} m`),
    mono: true,
  },
  { key: 'for', title: 'For', value: (l) => l.runs.length, text: (l) => l.runs.join(', ') },
]
type Licence = (typeof licences.value)[number]
const standing = (l: Licence): string =>
  l.held ? 'there' : l.neededBy.length ? 'missing' : 'not there'
const shapeOf = (l: Licence) => (l.held ? 'clear' : l.neededBy.length ? 'blockers' : 'nothing')
const licenceColumns: readonly Column<Licence>[] = [
  { key: 'device', title: 'Device', value: (l) => l.device.name },
  { key: 'licence', title: 'Licence', value: (l) => `${l.licence.name} ${l.licence.kind}` },
  { key: 'unlocks', title: 'Unlocks', value: (l) => l.licence.unlocks },
  { key: 'needed', title: 'Needed by', value: (l) => l.neededBy.join(', ') || 'nothing here' },
  { key: 'is', title: 'Is', value: standing },
]
</script>

<template>
  <section aria-label="Materials">
    <div class="row spread">
      <h2>To bring</h2>
      <v-btn
        class="no-print"
        size="small"
        variant="text"
        :disabled="lines.length === 0"
        @click="saveInFormat('materials-csv')"
        >Save CSV</v-btn
      >
    </div>
    <p v-if="lines.length === 0" class="faint">
      The list is made from the equipment and the cables of the plan.
    </p>
    <div v-else class="scroll-x">
      <LazyRowsDataTable :rows="lines" :columns="columns" what="things" :groups="['group']">
        <template #cell-group="{ row: l }"
          ><span class="faint">{{ l.group }}</span></template
        >
        <template #cell-for="{ row: l }"
          ><span class="faint" :title="l.runs.join(', ')">{{ short(l.runs) }}</span></template
        >
      </LazyRowsDataTable>
    </div>
    <h2>Electricity</h2>
    <p>
      <b
        class="mono"
        :title="
          energy.lines
            .map((l) => `${model.device(l.deviceId).name} ${round(l.drawW)} W`)
            .join(' + ')
        "
        >{{ round(energy.totalW) }} W</b
      >
      all day are
      <b class="mono" :title="`${round(energy.totalW)} W x ${HOURS_A_YEAR} h / 1000`"
        >{{ round(energy.kwhAYear) }} kWh</b
      >
      a year<template v-if="energy.costAYear !== null"
        >,
        <b
          class="mono"
          :title="`${round(energy.kwhAYear)} kWh x ${model.plan.site.electricity!.pricePerKwh}`"
          >{{ round(energy.costAYear) }} {{ model.plan.site.electricity!.currency }}</b
        ></template
      >.
      <span class="faint"
        >Every device at its most, powered ones with the loss in their cables{{
          energy.costAYear === null ? '; record a price above for the cost' : ''
        }}.</span
      >
    </p>
    <template v-if="licences.length">
      <h2>Licences and registrations</h2>
      <LazyRowsDataTable
        :rows="licences"
        :columns="licenceColumns"
        what="licences"
        :groups="['is', 'device']"
        :hot="licences.filter((l) => site.pointed.includes(l.device.id)).map((l) => l.id)"
      >
        <template #cell-is="{ row: l }"
          ><span class="mark" :class="shapeOf(l)"
            ><ShellStateShape :kind="shapeOf(l)" />{{ standing(l) }}</span
          ></template
        >
      </LazyRowsDataTable>
    </template>
  </section>
</template>
