<script setup lang="ts">
/** How each device is set up, and what another way would cost the day. */
import {
  chooseSchool,
  gearOf,
  schoolWords,
  setUpOf,
  wayNames,
  whyNotPrepared,
  type SchoolCosts,
} from '@mast/core/bringup'
import { schools, type Device } from '@mast/core/plan'
import { formatDuration } from '@mast/core/words'
import { analyst } from '~/workers/analyst'

const site = useSite()
const { people } = useDayPeople(site.opened.id)
/** What has neither a page nor a controller is plugged in and that is that. */
const gear = computed(() =>
  (site.model ? gearOf(site.model) : []).filter((d) => {
    const { adoptable, factory } = site.opened.model.profileOf(d.id)
    return adoptable || factory.address !== null
  }),
)
const { shown, rest, more } = useShownRows(() => gear.value)
const rows = computed(() =>
  shown.value.map((device) => {
    const model = site.opened.model
    const { adoptable, name, setUp } = model.profileOf(device.id)
    return {
      device,
      now: setUpOf(model, device),
      kind: name,
      isAdopted: adoptable && model.hasController,
      ways: setUp.ways,
      refused: whyNotPrepared(model, device),
    }
  }),
)
const at = [
  { title: 'on the bench', value: 'bench' },
  { title: 'where it hangs', value: 'place' },
]
const wayItems = (ways: readonly (keyof typeof wayNames)[]) =>
  ways.map((value) => ({ title: wayNames[value], value }))
const schoolItems = (refused: string | null) =>
  schools
    .filter((s) => s !== 'prepared' || !refused)
    .map((value) => ({ title: schoolWords[value], value }))
const chosen = ref<readonly string[]>([])
const isChosen = (id: string): boolean => chosen.value.includes(id)
const choose = (id: string): void => {
  costs.value = null
  chosen.value = isChosen(id) ? chosen.value.filter((x) => x !== id) : [...chosen.value, id]
}
/** All of the kind of a device, as somebody says "these too". */
const chooseKind = (device: Device): void => {
  costs.value = null
  chosen.value = gear.value.filter((d) => d.profileId === device.profileId).map((d) => d.id)
}
const refused = ref<string | undefined>()
function set(devices: readonly Device[], changes: Parameters<typeof chooseSchool>[1]): void {
  costs.value = null
  refused.value = site.mend(
    devices.length === 1
      ? `How ${devices[0]!.name} is set up`
      : `How ${devices.length} devices are set up`,
    chooseSchool(devices, changes),
  )
}
const picked = computed(() => gear.value.filter((d) => isChosen(d.id)))
const costs = shallowRef<SchoolCosts | null>(null)
const busy = ref(false)
async function compare(): Promise<void> {
  busy.value = true
  costs.value = await analyst().schoolCosts([...chosen.value], people.value.names.length)
  busy.value = false
}
const nameOf = (id: string): string => site.plan?.devices[id]?.name ?? id
</script>

<template>
  <details v-if="gear.length" class="set-up">
    <summary>How each device is set up ({{ gear.length }})</summary>
    <Refusal :says="refused" />
    <div class="scroll-x">
      <table class="plain devices">
        <thead>
          <tr>
            <th><span class="visually-hidden">Choose</span></th>
            <th>Device</th>
            <th>Gets what it is told</th>
            <th>Set up</th>
            <th>Reached by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.device.id">
            <td>
              <v-checkbox
                :model-value="isChosen(r.device.id)"
                density="compact"
                hide-details
                :aria-label="`Compare for ${r.device.name}`"
                @update:model-value="choose(r.device.id)"
              />
            </td>
            <td>
              {{ r.device.name }}<br /><v-btn
                size="x-small"
                variant="text"
                @click="chooseKind(r.device)"
                >all {{ r.kind }}</v-btn
              >
            </td>
            <td>
              <v-select
                v-if="r.isAdopted"
                :model-value="r.now.school"
                :aria-label="`How ${r.device.name} gets what it is told`"
                :items="schoolItems(r.refused)"
                density="compact"
                hide-details
                @update:model-value="(school) => set([r.device], { school })"
              /><span v-else>{{ schoolWords['own-page'] }}</span>
              <span v-if="r.isAdopted && r.refused" class="faint"
                >Not prepared: {{ r.refused }}.</span
              >
            </td>
            <td>
              <v-select
                v-if="r.now.school !== 'prepared'"
                :model-value="r.now.at"
                :aria-label="`Where ${r.device.name} is set up`"
                :items="at"
                density="compact"
                hide-details
                @update:model-value="(setUpAt) => set([r.device], { setUpAt })"
              /><span v-else class="faint">by itself</span>
            </td>
            <td>
              <v-select
                v-if="r.now.school !== 'prepared' && r.ways.length > 1"
                :model-value="r.now.by"
                :aria-label="`How ${r.device.name} is reached`"
                :items="wayItems(r.ways)"
                density="compact"
                hide-details
                @update:model-value="(setUpBy) => set([r.device], { setUpBy })"
              /><span v-else class="faint">{{
                r.now.school === 'prepared' ? '' : wayNames[r.now.by]
              }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <RowsMore :rest="rest" what="devices" @more="more" />
    <div v-if="picked.length" class="row">
      <v-btn size="small" :loading="busy" @click="compare"
        >What would it cost for
        {{ picked.length === 1 ? picked[0]!.name : `${picked.length}` }}?</v-btn
      >
    </div>
    <div v-if="costs" class="scroll-x">
      <table class="plain" aria-label="What each way costs">
        <thead>
          <tr>
            <th>{{ picked.length === 1 ? 'It gets' : 'They get' }}</th>
            <th>Set up</th>
            <th class="num">Whole day</th>
            <th class="num">Hands on</th>
            <th class="num">At the laptop</th>
            <th class="num">Visits</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in costs.costs" :key="c.school + c.at">
            <td>{{ schoolWords[c.school] }}</td>
            <td>
              {{ c.school === 'prepared' ? 'by itself' : at.find((x) => x.value === c.at)!.title }}
            </td>
            <td class="num mono">{{ formatDuration(c.totalSeconds) }}</td>
            <td class="num mono">{{ formatDuration(c.workSeconds) }}</td>
            <td class="num mono">{{ formatDuration(c.laptopSeconds) }}</td>
            <td class="num mono">{{ c.visits }}</td>
            <td>
              <span v-if="c.isNow" class="faint">as it is</span>
              <v-btn
                v-else
                size="x-small"
                variant="text"
                @click="set(picked, { school: c.school, setUpAt: c.at })"
                >Do it so</v-btn
              >
            </td>
          </tr>
        </tbody>
      </table>
      <p v-for="r in costs.refused" :key="r.deviceId" class="faint">
        {{ nameOf(r.deviceId) }} cannot have everything prepared: {{ r.why }}.
      </p>
    </div>
  </details>
</template>

<style scoped>
.set-up {
  margin: 14px 0;
}
.devices td {
  min-width: 160px;
}
.devices td:first-child {
  min-width: 0;
  width: 44px;
}
/* On a phone each device is a card of its own. */
@media (max-width: 600px) {
  .devices thead {
    display: none;
  }
  .devices tr {
    display: grid;
    grid-template-columns: 44px 1fr;
    border-bottom: 1px solid var(--hair);
    padding: 4px 0;
  }
  .devices td {
    height: auto;
    border: 0;
    padding: 2px 0;
    min-width: 0;
  }
  .devices td:nth-child(n + 3) {
    grid-column: 1 / -1;
  }
}
</style>
