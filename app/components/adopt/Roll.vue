<script setup lang="ts">
/** The devices that are adopted, and how far each has come. */
import { controllerUrl, waitingFor, type AdoptionState } from '@mast/core/adoption'
import { pathOf, readConfiguration, type RollDevice } from '@mast/api'

const site = useSite()
const configurationOf = (device: string): string =>
  pathOf(readConfiguration, { params: { site: site.opened.id, device } })
const field = useField()
const track: readonly AdoptionState[] = [
  'planned',
  'powered',
  'seen',
  'claimed',
  'loading',
  'in-service',
]
const rows = computed(() =>
  field.devices.flatMap((d) => {
    const device = site.plan?.devices[d.deviceId]
    return device ? [{ d, device, profile: site.opened.model.profileOf(device.id) }] : []
  }),
)
const { shown, rest, more, reach } = useShownRows(
  () => rows.value,
  () => 12,
)
watch(
  () => [site.selected, ...site.pointed],
  (ids) => {
    for (const id of ids) reach(rows.value.findIndex((r) => r.d.deviceId === id))
  },
)
const wait = (r: {
  d: RollDevice
  device: { serial: string | null }
  profile: { firmware: { wanted: string } }
}) =>
  waitingFor({
    state: r.d.state,
    serial: r.device.serial,
    firmware: r.d.firmware,
    firmwareWanted: r.profile.firmware.wanted,
    isHeard: r.d.lastHeardAt !== null,
  })
const typed = ref<Record<string, string>>({})
const refused = ref<Record<string, string | undefined>>({})
const url = computed(() => controllerUrl(site.opened.model))
const lamp = (id: string) => {
  const state = field.standins?.devices.find((x) => x.id === id)?.light
  return state ? site.opened.model.profileOf(id).lights.find((l) => l.state === state) : undefined
}
const lampState = (id: string): string => lamp(id)?.state.replace('-', ' ') ?? 'nothing'
async function claim(id: string): Promise<void> {
  refused.value = { ...refused.value, [id]: await field.claim(id, typed.value[id] ?? '') }
}
const at = (d: RollDevice): number =>
  d.state === 'drifted' || d.state === 'lost'
    ? d.state === 'drifted'
      ? 5
      : -1
    : track.indexOf(d.state)
/** Whether a device came by a state, not only past it: one claimed in its box had no power yet. */
const hasPassed = (d: RollDevice, i: number): boolean =>
  i < at(d) && (d.lastHeardAt !== null || !['powered', 'seen'].includes(track[i]!))
const commandWords = {
  fetch: 'load its configuration again',
  restart: 'restart',
  locate: 'show itself',
}
/** Reports that change nothing are not told of, so the roll is read again. */
const READ_AGAIN_MS = 15_000
useIntervalFn(() => void field.readDevices().catch(() => {}), READ_AGAIN_MS)
async function tell(id: string, run: () => Promise<string | undefined>): Promise<void> {
  refused.value = { ...refused.value, [id]: await run() }
}
const counts = computed(() => ({
  plan: rows.value.length,
  claimed: rows.value.filter((r) => r.d.claimed).length,
  inService: rows.value.filter((r) => r.d.state === 'in-service').length,
}))
</script>

<template>
  <div>
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
        ><template v-else-if="!site.opened.plan.controller.hostDeviceId"
          >No controller is in the plan: each is set up by its own page with the configuration
          below, and nobody watches it.</template
        ><span v-else class="mark blockers"
          ><ShellStateShape kind="blockers" />The controller has no address; give its host one in
          Addresses.</span
        >
      </p>
      <InTurns
        ><article
          v-for="r in shown"
          :key="r.d.deviceId"
          class="entry"
          :class="{ hot: site.pointed.includes(r.d.deviceId) || site.selected === r.d.deviceId }"
          :data-device="r.d.deviceId"
        >
          <div class="who">
            <b>{{ r.device.name }}</b><span class="faint">{{ r.profile.name }}</span
            ><span class="mono">{{ r.device.serial ?? 'no serial' }}</span>
          </div>
          <div class="where">
            <svg viewBox="0 0 480 34" role="img" :aria-label="`${r.device.name} is ${r.d.state}`">
              <line x1="14" x2="466" y1="11" y2="11" class="rail" />
              <g
                v-for="(s, i) in track"
                :key="s"
                :transform="`translate(${14 + i * 90} 11)`"
                :class="{ passed: hasPassed(r.d, i), here: i === at(r.d) }"
              >
                <rect x="-5" y="-5" width="10" height="10" transform="rotate(45)" />
                <text
                  x="0"
                  y="21"
                  :text-anchor="i === 0 ? 'start' : i === 5 ? 'end' : 'middle'"
                  :dx="i === 0 ? -12 : i === 5 ? 14 : 0"
                >
                  {{ s.replace('-', ' ') }}
                </text>
              </g>
            </svg>
            <p class="wait">
              <span v-if="r.d.state === 'lost' || r.d.state === 'drifted'" class="mark cautions"
                ><ShellStateShape kind="cautions" />{{ r.d.state }}</span
              ><span v-if="r.d.state === 'in-service'" class="mark clear"
                ><ShellStateShape kind="clear" />in service</span
              ><template v-else> waits for {{ wait(r).text }}</template
              ><template
                v-if="r.d.state === 'in-service' && lamp(r.d.deviceId)?.state !== 'in-service'"
              >
                at its last call; its lamp says: {{ lampState(r.d.deviceId) }}</template
              >
            </p>
            <p v-if="r.d.told" class="wait faint">
              Told {{ secondText(r.d.told.at) }} to {{ commandWords[r.d.told.command]
              }}{{
                r.d.told.doneAt
                  ? `, done ${secondText(r.d.told.doneAt)}`
                  : '; it hears of it when it calls next'
              }}
            </p>
            <p v-if="r.d.wentBack" class="mark cautions wrap">
              <ShellStateShape kind="cautions" />Nobody confirmed what was sent last, so it went
              back by itself
            </p>
            <p v-if="r.d.desiredMissing.length" class="mark blockers wrap">
              <ShellStateShape kind="blockers" />No configuration for it yet: missing
              {{ r.d.desiredMissing.join(', ') }}
            </p>
          </div>
          <dl class="facts">
            <dt>firmware</dt>
            <dd class="mono">
              {{ r.d.firmware ?? '?'
              }}<template v-if="r.d.firmware !== r.profile.firmware.wanted">
                of {{ r.profile.firmware.wanted }}</template
              >
            </dd>
            <dt>address</dt>
            <dd class="mono">{{ r.d.address ?? '' }}</dd>
            <dt>called</dt>
            <dd class="mono">{{ r.d.lastHeardAt ? secondText(r.d.lastHeardAt) : 'never' }}</dd>
            <dt>runs</dt>
            <dd>
              {{
                r.d.configurationMatches === null
                  ? r.d.release
                    ? 'factory settings'
                    : 'nothing of ours'
                  : r.d.configurationMatches
                    ? `release ${r.d.release}`
                    : 'something else'
              }}<template v-if="r.d.isUnsent">; the plan has more</template>
            </dd>
            <template v-if="lamp(r.d.deviceId)"
              ><dt>lamp</dt>
              <dd><BringUpLamp :light="lamp(r.d.deviceId)!" /></dd
            ></template>
          </dl>
          <div class="do no-print">
            <form
              v-if="!r.d.claimed && r.d.state !== 'foreign' && url"
              class="row"
              @submit.prevent="claim(r.d.deviceId)"
            >
              <v-text-field
                v-model="typed[r.d.deviceId]"
                label="Serial off the label"
                class="serial"
              /><v-btn
                type="submit"
                color="primary"
                :variant="r.d.state === 'seen' ? 'flat' : 'outlined'"
                :disabled="!typed[r.d.deviceId]"
                >Claim</v-btn
              >
            </form>
            <v-btn
              v-if="!r.d.claimed && !url"
              size="small"
              variant="text"
              :href="configurationOf(r.d.deviceId)"
              target="_blank"
              >Configuration</v-btn
            >
            <template v-if="r.d.claimed">
              <v-btn
                size="small"
                variant="text"
                @click="tell(r.d.deviceId, () => field.command(r.d.deviceId, 'fetch'))"
                >Load again</v-btn
              ><v-btn
                size="small"
                variant="text"
                @click="tell(r.d.deviceId, () => field.command(r.d.deviceId, 'restart'))"
                >Restart</v-btn
              >
              <v-btn
                size="small"
                variant="text"
                :href="configurationOf(r.d.deviceId)"
                target="_blank"
                >Configuration</v-btn
              ><v-btn
                size="small"
                variant="text"
                @click="tell(r.d.deviceId, () => field.giveUp(r.d.deviceId))"
                >Give up</v-btn
              >
            </template>
            <Refusal :says="refused[r.d.deviceId]" />
          </div></article
      ></InTurns>
      <RowsMore :rest="rest" what="devices" @more="more" />
    </template>
  </div>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: 150px minmax(300px, 1fr) 210px;
  gap: 4px 20px;
  border-top: 1px solid var(--hair);
  padding: 12px 0 8px;
  break-inside: avoid;
}
.entry.hot {
  background: var(--selection);
}
.who {
  display: flex;
  flex-direction: column;
}
.where > svg {
  width: 100%;
  max-width: 480px;
}
.wait {
  margin: 2px 0;
}
.wrap {
  white-space: normal;
}
.rail {
  stroke: var(--hair);
  stroke-width: 1.5;
}
.where rect {
  fill: var(--paper);
  stroke: var(--hair);
}
.where text {
  font: 11px var(--text);
  fill: var(--faint);
}
.passed rect {
  fill: var(--ink);
  stroke: var(--ink);
}
.here rect {
  fill: var(--proven);
  stroke: var(--ink);
}
.here text {
  fill: var(--ink);
  font-weight: 700;
}
.facts {
  display: grid;
  grid-template-columns: 62px 1fr;
  gap: 0 8px;
  margin: 0;
  font-size: 13px;
  align-content: start;
}
dt {
  color: var(--faint);
}
dd {
  margin: 0;
}
.do {
  grid-column: 2 / -1;
}
.serial {
  max-width: 250px;
}
@media (max-width: 900px) {
  .entry {
    grid-template-columns: 1fr;
  }
  .do {
    grid-column: auto;
  }
}
</style>
