<script setup lang="ts">
/** Where to hang access points, and how many it takes. */
import { editCall, idFor, idsOf, type ClientType, type Floor } from '@mast/core/plan'
import type { Band } from '@mast/core/radio'
import { usualRadio, type Proposed } from '@mast/core/wifi'
import { plain, useAirTask } from './useAirTask'

const { floor, band, client } = defineProps<{
  floor: Floor
  band: Band
  client: Omit<ClientType, 'id' | 'name'>
}>()
const emit = defineEmits<{ proposed: [places: Proposed['places']] }>()
const site = useSite()
const { result, isWorking, failed, run, stop } = useAirTask<Proposed | null>()
const count = ref('')
const asked = ref(false)
async function propose(): Promise<void> {
  const n = Math.floor(Number(count.value))
  const wanted = count.value === '' || !(n > 0) ? null : Math.min(100, n)
  await run(site.opened.plan, (w, p) => w.places(p, floor.id, band, plain(client), wanted))
  asked.value = true
  emit('proposed', result.value?.places ?? [])
}
watch(
  () => [floor.id, band],
  () => {
    result.value = null
    asked.value = false
    stop()
    emit('proposed', [])
  },
)
const percent = (n: number): string => `${Math.round(n * 100)} %`
const answer = computed(() => {
  const r = result.value
  if (!r) return null
  const reach =
    r.forReach === null
      ? 'No number of these serves 95 % of the people with -67 dBm'
      : `Reach takes ${r.forReach}` +
        (r.forReachAtLeast < r.forReach
          ? ` (fewer than ${r.forReachAtLeast} cannot)`
          : ', and fewer cannot')
  const more = r.forPeople > (r.forReach ?? Infinity) ? 'what people need binds' : 'reach binds'
  return (
    `${reach}; what all need takes ${r.forPeople}: ${more}. ${r.now} hang now. ` +
    `${r.places.length} here give ${percent(r.served)} a good level` +
    (r.isBest
      ? ', the best there is.'
      : `; no ${r.places.length} give more than ${percent(r.atMost)}.`)
  )
})
const refused = ref<string | undefined>()
/** Hangs them as new access points, of the kind that hangs there. */
function hang(): void {
  const like = usualRadio(site.opened.model, floor, band)
  if (!like || !result.value) return
  const taken = idsOf(site.opened.plan)
  refused.value = site.mend(
    `Hang ${result.value.places.length} access points`,
    result.value.places.flatMap((p, n) => {
      const name = `${floor.name.slice(0, 40)} AP ${n + 1}`
      const id = idFor(name, taken)
      taken.add(id)
      return [
        editCall('addDevice', { id, name, profileId: like.device.profileId, power: 'poe' }),
        editCall('changeDevice', {
          id,
          changes: {
            place: {
              ...{ floorId: floor.id, x: p.x, y: p.y, degrees: 0, stays: false },
              heightM: floor.isOutdoors ? 4 : 2.6,
            },
          },
        }),
      ]
    }),
  )
}
</script>

<template>
  <section aria-label="Where to hang them">
    <h2>Where to hang them</h2>
    <div class="row no-print">
      <v-text-field
        v-model="count"
        label="How many"
        placeholder="as few as it takes"
        inputmode="numeric"
        style="max-width: 180px"
      />
      <v-btn v-if="!isWorking" @click="propose">Propose places</v-btn>
      <v-btn v-else @click="stop">Stop</v-btn>
    </div>
    <Refusal :says="failed ?? refused" />
    <p v-if="answer" role="status">{{ answer }}</p>
    <p v-else-if="asked && !isWorking" class="faint">
      Nothing to propose: it takes areas with people on this plan, and an access point in the plan
      of the site that knows {{ band }} GHz.
    </p>
    <template v-if="result?.places.length">
      <p class="faint">
        At {{ result.places.map((p) => `${p.x}, ${p.y} m`).join('; ') }}. Heights and roofs: work
        from what is made for it, never alone; leave mains to licensed people.
      </p>
      <v-btn class="no-print" @click="hang">Hang them as new access points</v-btn>
    </template>
  </section>
</template>
