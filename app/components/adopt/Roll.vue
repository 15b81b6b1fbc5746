<script setup lang="ts">
/** The devices that are adopted, and how far each has come. */
import { controllerUrl, waitingFor } from '@mast/core/adoption'
import type { Column } from '../rows/column'

const site = useSite()
const field = useField()
const rows = computed(() =>
  field.devices.flatMap((roll) => {
    const device = site.plan?.devices[roll.deviceId]
    return device
      ? [{ id: device.id, roll, device, profile: site.opened.model.profileOf(device.id) }]
      : []
  }),
)
type Row = (typeof rows.value)[number]
const url = computed(() => controllerUrl(site.opened.model))
const lamp = (id: string) => {
  const state = field.standins?.devices.find((x) => x.id === id)?.light
  return state ? site.opened.model.profileOf(id).lights.find((l) => l.state === state) : undefined
}
const waits = ({ roll, device }: Row): string =>
  waitingFor({
    state: roll.state,
    serial: device.serial,
    firmware: roll.firmware,
    firmwareWanted: site.opened.model.firmwareWanted(device.id),
    isHeard: roll.lastHeardAt !== null,
  }).text
const stateWords = ({ roll }: Row): string => roll.state.replace('-', ' ')
/** What it lacks, the worst first. */
const lacks = (r: Row): string => {
  if (r.roll.desiredMissing.length > 0)
    return `no configuration for it yet: missing ${r.roll.desiredMissing.join(', ')}`
  if (!site.opened.model.hasController)
    return 'it is set up by its own page, and nobody hears of it'
  if (r.roll.wentBack) return 'nobody confirmed what was sent last, so it went back by itself'
  if (r.roll.state !== 'in-service') return `waits for ${waits(r)}`
  const light = lamp(r.id)
  return light && light.state !== 'in-service'
    ? `at its last call; its lamp says: ${light.state.replace('-', ' ')}`
    : ''
}
const kindOf = ({ roll }: Row): 'blockers' | 'cautions' | null =>
  roll.desiredMissing.length > 0
    ? 'blockers'
    : roll.wentBack || roll.state === 'lost' || roll.state === 'drifted'
      ? 'cautions'
      : null
const runs = ({ roll }: Row): string =>
  !site.opened.model.hasController
    ? 'not known here'
    : (roll.configurationMatches === null
        ? roll.release
          ? 'factory settings'
          : 'nothing of ours'
        : roll.configurationMatches
          ? `release ${roll.release}`
          : 'something else') + (roll.isUnsent ? '; the plan has more' : '')
const firmware = ({ id, roll }: Row): string => {
  const wanted = site.opened.model.firmwareWanted(id)
  return (roll.firmware ?? '?') + (roll.firmware === wanted ? '' : ` of ${wanted}`)
}
const columns: readonly Column<Row>[] = [
  { key: 'name', title: 'Device', value: (r) => r.device.name },
  { key: 'profile', title: 'Profile', value: (r) => r.profile.name, isHidden: true },
  { key: 'state', title: 'State', value: stateWords, isHidden: true },
  { key: 'is', title: 'Is', value: (r) => `${stateWords(r)}, ${lacks(r)}` },
  { key: 'firmware', title: 'Firmware', value: firmware, mono: true },
  {
    key: 'called',
    title: 'Called',
    value: (r) => r.roll.lastHeardAt ?? '',
    text: (r) => (r.roll.lastHeardAt ? secondText(r.roll.lastHeardAt) : 'never'),
    mono: true,
  },
  { key: 'runs', title: 'Runs', value: runs },
  { key: 'lamp', title: 'Lamp', value: (r) => lamp(r.id)?.state ?? '' },
]
/** Reports that change nothing are not told of, so the roll is read again. */
const READ_AGAIN_MS = 15_000
useIntervalFn(() => void field.readDevices().catch(() => {}), READ_AGAIN_MS)
const refused = ref<string | undefined>()
const claimed = (ids: readonly string[]): string[] =>
  ids.filter((id) => field.devices.some((d) => d.deviceId === id && d.claimed))
/** One after the other; what one refuses is told, the others are told all the same. */
async function tellAll(ids: readonly string[], command: 'fetch' | 'restart'): Promise<void> {
  refused.value = undefined
  for (const id of claimed(ids)) refused.value = (await field.command(id, command)) ?? refused.value
}
const maySet = computed(() => site.role === 'owner' || site.role === 'engineer')
const counts = computed(() => ({
  plan: rows.value.length,
  claimed: rows.value.filter((r) => r.roll.claimed).length,
  inService: rows.value.filter((r) => r.roll.state === 'in-service').length,
}))
</script>

<template>
  <section aria-label="Roll">
    <p v-if="!field.loaded" class="faint">Fetching the roll ...</p>
    <p v-else-if="rows.length === 0" class="lead">
      Nothing to adopt yet. Devices with a serial in Survey appear here as soon as they are in the
      plan.
    </p>
    <template v-else>
      <p data-drawing>
        {{ counts.plan }} in the plan, {{ counts.claimed }} claimed, {{ counts.inService }} in
        service.
        <template v-if="url"
          >Controller address for devices, nothing more and nothing less:
          <b class="mono">{{ url }}</b></template
        ><template v-else-if="!site.opened.model.hasController"
          >No controller is in the plan: each is set up by its own page with the configuration
          below, and nobody watches it.</template
        ><span v-else class="mark blockers"
          ><ShellStateShape kind="blockers" />The controller has no address; give its host one in
          Addresses.</span
        >
      </p>
      <div class="scroll-x">
        <LazyRowsDataTable
          :rows="rows"
          :columns="columns"
          what="devices"
          :groups="['state', 'profile', 'runs']"
          :open="site.selected"
          :hot="site.pointed"
          @open="(id: string) => (site.selected = id)"
        >
          <template #cell-name="{ row: r }"
            >{{ r.device.name }}<span class="beneath faint">{{ r.profile.name }}</span></template
          >
          <template #cell-is="{ row: r }"
            ><AdoptRollTrack :device="r.roll" :name="r.device.name" /><b>{{ stateWords(r) }}</b
            ><span v-if="kindOf(r)" class="beneath mark" :class="kindOf(r)"
              ><ShellStateShape :kind="kindOf(r)!" />{{ lacks(r) }}</span
            ><span v-else class="beneath faint">{{ lacks(r) }}</span></template
          >
          <template #cell-lamp="{ row: r }"
            ><BringUpLamp v-if="lamp(r.id)" :light="lamp(r.id)!"
          /></template>
          <template #chosen="{ ids }">
            <v-btn
              size="small"
              variant="text"
              :disabled="claimed(ids).length === 0"
              @click="tellAll(ids, 'fetch')"
              >Load again</v-btn
            ><v-btn
              size="small"
              variant="text"
              :disabled="claimed(ids).length === 0"
              @click="tellAll(ids, 'restart')"
              >Restart</v-btn
            ><AdoptFirmware v-if="maySet" :ids="ids" />
          </template>
          <template #form="{ row: r }"><AdoptRollEntry :roll="r.roll" /></template>
        </LazyRowsDataTable>
      </div>
      <Refusal :says="refused" />
    </template>
  </section>
</template>

<style scoped>
.beneath {
  display: block;
  font-size: 12.5px;
  white-space: normal;
}
</style>
