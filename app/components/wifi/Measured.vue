<script setup lang="ts">
/** Readings, and what they say of the plan: distance, walls, and how sure the map is. */
import { newId, type Floor } from '@mast/core/plan'
import { materials, percentOf, type Band, type MaterialId } from '@mast/core/radio'
import type { FloorFit } from '@mast/core/wifi'
import { useAirTask } from './useAirTask'

const { floor, band, probe, points } = defineProps<{
  floor: Floor
  band: Band
  /** Where the plan was tapped. */
  probe: { x: number; y: number } | null
  points: readonly { readonly id: string; readonly name: string }[]
}>()
const emit = defineEmits<{ residuals: [list: FloorFit['residuals']] }>()
const site = useSite()
const { result, isWorking, failed, run, stop } = useAirTask<FloorFit | null>()
const walks = computed(() =>
  Object.values(site.opened.plan.walks).filter((w) => w.floorId === floor.id && w.band === band),
)
const count = computed(() => walks.value.reduce((sum, w) => sum + w.readings.length, 0))
async function fit(): Promise<void> {
  await run(site.opened.plan, (w, p) => w.fit(p, floor.id, band))
  emit('residuals', result.value?.residuals ?? [])
}
watch(
  () => [floor.id, band, site.opened.plan.walks, site.opened.plan.walls],
  () => {
    result.value = null
    stop()
    emit('residuals', [])
  },
)
const refused = ref<string | undefined>()
const heardOf = ref<string | null>(null)
const level = ref('')
watch(
  () => points,
  (list) => {
    if (!list.some((p) => p.id === heardOf.value)) heardOf.value = list[0]?.id ?? null
  },
  { immediate: true },
)
/** One more reading at the tapped point; those of one access point and day are one walk. */
function keep(): void {
  const text = level.value.trim()
  const m = /^(-?\d+(?:[.,]\d+)?) ?(%)?$/.exec(text)
  const value = m ? Number(m[1]!.replace(',', '.')) : NaN
  const dbm = m?.[2] || value > 0 ? value / 2 - 100 : value
  if (!probe || !heardOf.value || !(dbm >= -120 && dbm <= 0)) {
    refused.value = 'tap the plan where you stand, and type the level, for example -67 or 66 %'
    return
  }
  const reading = { x: round(probe.x), y: round(probe.y), dbm }
  const today = new Date().toISOString().slice(0, 10)
  const mine = walks.value.find((w) => w.deviceId === heardOf.value && w.takenOn === today)
  refused.value = mine
    ? site.edit('changeWalk', { id: mine.id, changes: { readings: [...mine.readings, reading] } })
    : site.edit('addWalk', {
        ...{ id: newId(site.opened.plan, 'walk'), floorId: floor.id, deviceId: heardOf.value },
        ...{ band, takenOn: today, readings: [reading] },
      })
  if (!refused.value) level.value = ''
}
const round = (n: number): number => Math.round(n * 10) / 10
const bent = computed(() => {
  const r = result.value
  return r && Math.abs(r.coefficient.value - floor.coefficient) > 0.05
})
function bend(): void {
  refused.value = site.edit('changeFloor', {
    id: floor.id,
    changes: { coefficient: Math.min(60, Math.max(15, round(result.value!.coefficient.value))) },
  })
}
function madeOf(wallId: string, material: MaterialId): void {
  refused.value = site.edit('changeWall', { id: wallId, changes: { material } })
}
const off = (w: FloorFit['walls'][number]): number => round(w.fitted.value - w.plannedDb)
</script>

<template>
  <section aria-label="Measured">
    <h2>Measured</h2>
    <form class="row no-print" @submit.prevent="keep">
      <v-select
        v-model="heardOf"
        label="Heard of"
        :items="points"
        item-title="name"
        item-value="id"
        style="max-width: 200px"
      />
      <v-text-field v-model="level" label="Level" placeholder="-67" style="max-width: 110px" />
      <v-btn type="submit" :disabled="!heardOf"
        >Keep the reading{{
          probe ? ` at ${probe.x.toFixed(1)}, ${probe.y.toFixed(1)} m` : ''
        }}</v-btn
      >
      <v-btn v-if="!isWorking" :disabled="count === 0" @click="fit"
        >Bend the model to {{ count }} readings</v-btn
      >
      <v-btn v-else @click="stop">Stop</v-btn>
    </form>
    <Refusal :says="refused ?? failed" />
    <template v-if="result">
      <p role="status">
        Distance takes N {{ result.coefficient.value.toFixed(1) }} (give or take
        {{ result.coefficient.sd.toFixed(1) }}; drawn {{ floor.coefficient }}); what was carried
        hears {{ Math.abs(result.offsetDb.value).toFixed(1) }} dB
        {{ result.offsetDb.value < 0 ? 'less' : 'more' }}; readings scatter by
        {{ result.spreadDb.toFixed(1) }} dB. The map is sure to {{ result.surestDb.toFixed(1) }} dB
        where it was walked, and to {{ result.leastSureDb.toFixed(1) }} dB around
        {{ result.leastSureAt.x.toFixed(0) }}, {{ result.leastSureAt.y.toFixed(0) }} m.
      </p>
      <v-btn v-if="bent" class="no-print" @click="bend"
        >Reckon with N {{ result.coefficient.value.toFixed(1) }}</v-btn
      >
      <table v-if="result.walls.length" class="plain" aria-label="Walls as measured">
        <thead>
          <tr>
            <th>Wall</th>
            <th>Drawn</th>
            <th>Measured</th>
            <th>Readings through it</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in result.walls.slice(0, 12)" :key="w.wallId">
            <td>{{ materials[w.material].name }}</td>
            <td class="mono">{{ round(w.plannedDb) }} dB</td>
            <td class="mono">
              {{ round(w.fitted.value) }} dB, give or take {{ round(w.fitted.sd) }}
            </td>
            <td class="mono">{{ w.passes }}</td>
            <td>
              <template v-if="w.isOther">
                {{ Math.abs(off(w)) }} dB {{ off(w) > 0 ? 'more' : 'less' }} than drawn
                <v-btn
                  v-if="w.like !== w.material"
                  class="no-print"
                  size="small"
                  variant="text"
                  @click="madeOf(w.wallId, w.like)"
                  >Draw it as {{ materials[w.like].name }}</v-btn
                >
              </template>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="result.strangers.length" class="faint">
        Left out: readings of what does not hang here in {{ band }} GHz.
      </p>
    </template>
    <p v-else-if="count === 0" class="faint">
      No readings in {{ band }} GHz yet. Walk with a device, tap where you stand and type what it
      says ({{ percentOf(-67) }} % are -67 dBm), or read in a table of them.
    </p>
  </section>
</template>
