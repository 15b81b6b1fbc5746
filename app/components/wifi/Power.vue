<script setup lang="ts">
/** Power for all radios of a band: no more than people need; or all that is allowed. */
import { editCall, settingsOf, type ClientType } from '@mast/core/plan'
import { percentOf, type Band } from '@mast/core/radio'
import type { PowerPlan } from '@mast/core/wifi'
import { useAirTask } from './useAirTask'

const { band, client } = defineProps<{ band: Band; client: Omit<ClientType, 'id' | 'name'> }>()
const site = useSite()
const { result, isWorking, failed, run, stop } = useAirTask<PowerPlan>()
watch(
  () => [band, site.opened.plan],
  () => {
    result.value = null
    stop()
  },
)
const refused = ref<string | undefined>()
const name = (id: string): string => site.opened.plan.devices[id]?.name ?? id
const area = (id: string): string => site.opened.plan.areas[id]?.name ?? id
const isLow = computed(() => site.opened.plan.site.wireless.power === 'low')
const schools = [
  { title: 'as little as people need', value: 'low' },
  { title: 'all that is allowed', value: 'full' },
]
/** What is asked for: the planned power, or none said, which is all that is allowed. */
const changed = computed(() =>
  (result.value?.radios ?? []).filter((r) => !isLow.value || r.to !== r.from),
)
function take(): void {
  const planned = result.value
  if (!planned) return
  const { model } = site.opened
  refused.value = site.mend(
    isLow.value ? `Turn radios of ${planned.band} GHz down` : `All power in ${planned.band} GHz`,
    [...new Set(changed.value.map((r) => r.deviceId))].map((id) =>
      editCall('changeDevice', {
        id,
        changes: {
          radios: settingsOf(model.device(id), model.profileOf(id)).map((s, n) => {
            const of = changed.value.find((r) => r.deviceId === id && r.radio === n)
            return of ? { ...s, powerDbm: isLow.value ? of.to : null } : s
          }),
        },
      }),
    ),
  )
}
const held = (r: PowerPlan['radios'][number]): string =>
  r.heldAt
    ? `${area(r.heldAt.areaId)} at ${r.heldAt.at.x.toFixed(0)}, ${r.heldAt.at.y.toFixed(0)} m needs it`
    : 'nobody needs it: as low as radios go'
</script>

<template>
  <section aria-label="Power">
    <h2>Power in {{ band }} GHz</h2>
    <div class="row no-print">
      <v-select
        label="Radios send"
        :model-value="site.opened.plan.site.wireless.power"
        :items="schools"
        style="max-width: 280px"
        @update:model-value="
          (power) => (refused = site.edit('changeSite', { wireless: { power } }))
        "
      />
      <v-btn v-if="!isWorking" @click="run(site.opened.plan, (w, p) => w.power(p, band, client))"
        >Work out the power</v-btn
      >
      <v-btn v-else @click="stop">Stop</v-btn>
    </div>
    <p v-if="!isLow" class="faint">
      Loud access points are heard further than they hear: a telephone answers with what it has.
      Look at the way back before more is set.
    </p>
    <Refusal :says="refused ?? failed" />
    <template v-if="result">
      <p role="status">
        {{ Math.round(result.served) }} people are served as planned,
        {{ Math.round(result.servedNow) }}
        now. Check with your regulator: limits are kept from memory.
      </p>
      <table v-if="result.radios.length" class="plain" aria-label="Planned power">
        <thead>
          <tr>
            <th>Access point</th>
            <th>Now</th>
            <th>Least that serves</th>
            <th>What holds it</th>
            <th>Weakest way back</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in result.radios" :key="`${r.deviceId} ${r.radio}`">
            <td>{{ name(r.deviceId) }}</td>
            <td class="mono">{{ r.from }} dBm</td>
            <td class="mono">{{ r.to }} dBm</td>
            <td>{{ held(r) }}{{ r.limit ? '; the boundary allows no more' : '' }}</td>
            <td class="mono">
              {{
                r.wayBackDbm === null
                  ? 'serves nobody'
                  : `${r.wayBackDbm.toFixed(0)} dBm (${Math.round(percentOf(r.wayBackDbm))} %)`
              }}
            </td>
          </tr>
        </tbody>
      </table>
      <v-btn v-if="changed.length" class="no-print" color="primary" variant="flat" @click="take">{{
        isLow ? `Take it over: ${changed.length} change` : 'Let all send what is allowed'
      }}</v-btn>
    </template>
  </section>
</template>
