<script setup lang="ts">
/** What to bring, what it costs to run, what is still locked. */
import { billOfMaterials, energyOf, HOURS_A_YEAR, licencesOf } from '@mast/core/survey'

const site = useSite()
/** All of it is reckoned from the whole plan, so it follows an edit in a turn of its own. */
const model = useLater(() => site.opened.model)
const lines = computed(() => billOfMaterials(model.value))
const energy = computed(() => energyOf(model.value))
const licences = computed(() => licencesOf(model.value))
const round = (n: number): string => (n < 10 ? n.toFixed(1) : countText(Math.round(n)))
const saveInFormat = useSaveInFormat()
const short = (runs: readonly string[]): string =>
  runs.length > 3 ? `${runs.slice(0, 3).join(', ')} and ${runs.length - 3} more` : runs.join(', ')
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
      <table class="plain">
        <thead>
          <tr>
            <th>Group</th>
            <th>What</th>
            <th>Count</th>
            <th>Length</th>
            <th>For</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in lines" :key="l.group + l.what">
            <td class="faint">{{ l.group }}</td>
            <td>{{ l.what }}</td>
            <td class="mono">{{ l.count }}</td>
            <td class="mono">{{ l.lengthM === null ? '' : `${l.lengthM} m` }}</td>
            <td class="faint runs" :title="l.runs.join(', ')">{{ short(l.runs) }}</td>
          </tr>
        </tbody>
      </table>
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
      <table class="plain">
        <thead>
          <tr>
            <th>Device</th>
            <th>Licence</th>
            <th>Unlocks</th>
            <th>Needed by</th>
            <th>Is</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="l in licences"
            :key="l.device.id + l.licence.id"
            :class="{ selected: site.pointed.includes(l.device.id) }"
          >
            <td>{{ l.device.name }}</td>
            <td>
              {{ l.licence.name }} <span class="faint">{{ l.licence.kind }}</span>
            </td>
            <td>{{ l.licence.unlocks }}</td>
            <td>{{ l.neededBy.join(', ') || 'nothing here' }}</td>
            <td>
              <span
                class="mark"
                :class="l.held ? 'clear' : l.neededBy.length ? 'blockers' : 'nothing'"
                ><ShellStateShape
                  :kind="l.held ? 'clear' : l.neededBy.length ? 'blockers' : 'nothing'"
                />{{ l.held ? 'there' : l.neededBy.length ? 'missing' : 'not there' }}</span
              >
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.runs {
  max-width: 340px;
}
td {
  padding-block: 3px !important;
}
</style>
