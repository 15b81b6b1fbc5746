<script setup lang="ts">
/**
 * The aim helper, for whoever stands at an antenna with a phone: what is to be read, what is read, the
 * best so far, and what to do next. Everything is worked out here, without a network.
 */
import {
  Aiming,
  expectedFromTrial,
  meaningOf,
  magneticDegrees,
  declinationDegrees,
  tiltDegrees,
  exposureM,
  type EndName,
  type Pointing,
} from '@mast/core/bridges'
import { REPORT_SECONDS } from '@mast/core/adoption'
import { turnAntenna } from '@mast/api'
import { useBridge } from './useBridge'
import { useReports } from './useReports'
import { useVoice } from './useVoice'

const site = useSite()
const field = useField()
const { reckoned, bridge, today } = useBridge()
const end = ref<EndName>('a')
const source = ref<'typed' | 'reports' | 'standins'>('typed')
const reported = useReports(bridge, end)
const isSafe = ref(false)
const { isLoud, isSpoken, sing, speak } = useVoice()
/** Under that nothing is read, dBm. */
const FLOOR_DBM = -95
/** A hand that points by eye and compass is off by so much, degrees (common practice). */
const HAND_OFF_DEGREES = 10
/** Between two readings of the stand-in, so that an eye follows, ms. */
const PAUSE_MS = 60

const own = computed(() => reckoned.value?.budget.facts[end.value])
const other = computed(() => reckoned.value?.budget.facts[end.value === 'a' ? 'b' : 'a'])
const direction = computed(() => reckoned.value?.budget[end.value === 'a' ? 'toA' : 'toB'])
const expected = computed(() => direction.value?.levelDbm ?? null)
const fromTrial = computed(() => {
  const trial = bridge.value?.trial
  return trial && own.value && trial.end === end.value
    ? expectedFromTrial(trial, own.value.antenna.gainDbi)
    : null
})
const bearing = computed(() => {
  const r = reckoned.value
  if (!r || !own.value || !other.value) return null
  const { way } = r.budget.facts
  const trueNorth = end.value === 'a' ? way.fromADegrees : way.fromBDegrees
  const declination = declinationDegrees(own.value.at, today)
  return {
    trueNorth,
    magnetic: declination === null ? null : magneticDegrees(trueNorth, declination),
    tilt: tiltDegrees(own.value.topM, other.value.topM, way.metres),
  }
})

let aiming: Aiming | null = null
const now = ref<number | null>(null)
const peak = ref<number | null>(null)
const words = ref('')
const isDone = ref(false)
const isTurning = ref(false)
const refused = ref<string | undefined>()
const typed = ref('')
const kept = ref(0)
/** What a hand does when nobody tells degrees: one sweep after the other, each with its peak. */
const legs = [
  'Sweep across, slowly, from far left to far right; type what is read as it changes',
  'Turn back to the best, then sweep up and down',
  'Back to the best; once more across, by hair breadths',
  'Lock it, wait a moment, and type what is read now',
] as const
const leg = ref(0)

function begin(): void {
  if (!own.value || expected.value === null) return
  aiming = new Aiming({
    antenna: own.value.antenna,
    expectedDbm: expected.value,
    floorDbm: FLOOR_DBM,
    startOffDegrees: Math.max(HAND_OFF_DEGREES, 2 * own.value.antenna.widthDegrees),
  })
  now.value = null
  peak.value = null
  isDone.value = false
  leg.value = 0
  refused.value = undefined
  words.value = source.value === 'standins' ? aiming.advice().words : legs[0]
}
watch(() => [end.value, bridge.value?.id, source.value], begin, { immediate: true })

const spoken = (dbm: number): string => `${dbm < 0 ? 'minus ' : ''}${Math.abs(Math.round(dbm))}`
onBeforeUnmount(() => {
  isTurning.value = false
})

function heard(dbm: number): void {
  now.value = dbm
  if (peak.value === null || dbm > peak.value) peak.value = dbm
  if (expected.value !== null) sing(dbm - expected.value)
  speak(spoken(dbm))
}
// Every report is a reading, the one that is there included.
watch(
  () => source.value === 'reports' && reported.value,
  (r) => {
    if (!r) return
    if (r.dbm !== null) heard(r.dbm)
    else words.value = 'It hears nothing of the other end'
  },
)
function type(): void {
  const dbm = Number(typed.value.replace(',', '.').replace(/\s*dBm$/i, ''))
  const level = dbm > 0 ? -dbm : dbm
  if (typed.value.trim() === '' || !Number.isFinite(level) || level < -120) {
    refused.value = 'a level is a number of dBm, for example -58'
    return
  }
  refused.value = undefined
  typed.value = ''
  heard(level)
}
function next(): void {
  if (leg.value < legs.length - 1) {
    leg.value++
    words.value = legs[leg.value]!
    speak(words.value, true)
  } else isDone.value = true
}

/** Loosens the antenna of the stand-in somewhere near, and follows the advice to its end. */
async function follow(): Promise<void> {
  begin()
  if (!aiming || !own.value || !bridge.value) return
  const a = aiming
  const reach = Math.max(HAND_OFF_DEGREES, own.value.antenna.widthDegrees) * 0.8
  const off: Pointing = {
    across: (Math.random() * 2 - 1) * reach,
    up: (Math.random() * 2 - 1) * reach * 0.5,
  }
  const deviceId = own.value.device.id
  const bridgeId = bridge.value.id
  const turnTo = async (to: Pointing): Promise<number> => {
    const { readings } = await ask(turnAntenna, {
      params: { site: site.opened.id },
      body: { deviceId, across: to.across + off.across, up: to.up + off.up },
    })
    const mine = readings.find((r) => r.bridgeId === bridgeId)
    if (!mine || mine.dbm === null)
      throw new Error(
        `nothing is read: ${mine?.why ?? 'no such bridge'}. Place both units on the run sheet first.`,
      )
    return Math.max(FLOOR_DBM, mine.dbm)
  }
  isTurning.value = true
  try {
    for (;;) {
      const advice = a.advice()
      if (!isTurning.value) break
      if (advice.kind === 'done') {
        heard(await turnTo(advice.best))
        words.value = advice.words
        isDone.value = true
        speak(advice.words, true)
        break
      }
      if (words.value !== advice.words && advice.words !== 'Go on turning') {
        words.value = advice.words
        speak(advice.words, true)
      }
      const dbm = await turnTo(advice.to)
      a.read({ ...advice.to, dbm })
      heard(dbm)
      await new Promise((resolve) => setTimeout(resolve, PAUSE_MS))
    }
  } catch (error) {
    refused.value = errorText(error)
  }
  isTurning.value = false
}
const meaning = computed(() => {
  const at = isDone.value ? now.value : peak.value
  const r = reckoned.value
  return at === null || expected.value === null || !own.value || !r
    ? null
    : meaningOf(at, expected.value, own.value.antenna, [
        r.bridge.a.polarisation,
        r.bridge.b.polarisation,
      ])
})
async function keep(): Promise<void> {
  if (now.value === null || !bridge.value || !own.value) return
  const text =
    `${own.value.device.name}: ${now.value.toFixed(1)} dBm, best ${(peak.value ?? now.value).toFixed(1)} dBm, ` +
    `expected ${expected.value!.toFixed(1)} dBm. ${meaning.value?.text ?? ''}`
  await field.keepEvidence('reading', `${bridge.value.id}.aim-${end.value}`, text, null)
  kept.value++
}
const evidence = computed(() =>
  field.evidence
    .filter((e) => bridge.value && e.stepId === `${bridge.value.id}.aim-${end.value}`)
    .slice(-4),
)
/** From the floor to 8 dB over what is expected. */
const share = (dbm: number): number =>
  expected.value === null
    ? 0
    : Math.min(100, Math.max(0, (100 * (dbm - FLOOR_DBM)) / (expected.value + 8 - FLOOR_DBM)))
const keepAway = computed(() => {
  const r = reckoned.value
  return r
    ? Math.max(0.1, exposureM(r.budget[end.value === 'a' ? 'toB' : 'toA'].sending.eirpDbm)).toFixed(
        1,
      )
    : ''
})
</script>

<template>
  <section v-if="reckoned && own && other" class="aim" aria-label="Aim">
    <h2>Aim</h2>
    <div class="row">
      <div class="row" role="tablist" aria-label="Where you stand">
        <button
          v-for="e in ['a', 'b'] as const"
          :key="e"
          type="button"
          role="tab"
          class="tab"
          :class="{ on: e === end }"
          :aria-selected="e === end"
          @click="end = e"
        >
          At {{ reckoned.budget.facts[e].device.name }}
        </button>
      </div>
    </div>
    <v-checkbox
      v-model="isSafe"
      class="caution"
      :label="
        'Not alone, tied in, footed ladder; no power lines in reach; no wind, rain or thunder; ' +
        `nobody within ${keepAway} m in front of an antenna that sends. Local codes and licensed ` +
        'people decide.'
      "
    />
    <template v-if="isSafe">
      <p v-if="bearing" class="pointing mono">
        {{ bearing.trueNorth.toFixed(1) }}° true<template v-if="bearing.magnetic !== null"
          >, {{ bearing.magnetic.toFixed(1) }}° by compass</template
        >, {{ bearing.tilt >= 0 ? 'up' : 'down' }} {{ Math.abs(bearing.tilt).toFixed(1) }}°
      </p>
      <div class="board">
        <div>
          <div class="faint">reads</div>
          <span class="number" role="group" aria-label="Reading">{{
            now === null ? '--' : now.toFixed(0)
          }}</span>
          <span class="faint">dBm</span>
        </div>
        <div class="side">
          <div>
            <span class="faint">best</span>{{ ' '
            }}<b class="mono">{{ peak === null ? '--' : peak.toFixed(1) }}</b>
          </div>
          <div>
            <span class="faint">expected</span>{{ ' '
            }}<b class="mono">{{ expected === null ? '?' : expected.toFixed(1) }}</b>
          </div>
          <div v-if="fromTrial !== null">
            <span class="faint">by the trial</span>{{ ' '
            }}<b class="mono">{{ fromTrial.toFixed(1) }}</b>
          </div>
        </div>
      </div>
      <div class="bar" role="img" :aria-label="`Reading against the expected level`">
        <span v-if="now !== null" class="fill" :style="{ width: `${share(now)}%` }" />
        <span v-if="peak !== null" class="peak" :style="{ left: `${share(peak)}%` }" />
        <span v-if="expected !== null" class="goal" :style="{ left: `${share(expected)}%` }" />
      </div>
      <p class="advice" role="status">{{ words }}</p>
      <p v-if="meaning" class="meaning" :class="meaning.meaning">{{ meaning.text }}</p>
      <ol v-if="meaning && isDone && meaning.checks.length">
        <li v-for="c in meaning.checks" :key="c.meaning">{{ c.text }}</li>
      </ol>
      <form v-if="source === 'typed'" class="row controls" @submit.prevent="type">
        <v-text-field
          v-model="typed"
          label="It reads, dBm"
          inputmode="text"
          class="reading"
          autocomplete="off"
        />
        <v-btn type="submit" size="large">Read</v-btn>
        <v-btn size="large" :disabled="now === null || isDone" @click="next">{{
          leg < legs.length - 1 ? 'Next sweep' : 'It is locked'
        }}</v-btn>
        <v-btn size="large" @click="begin">Anew</v-btn>
      </form>
      <div v-else-if="source === 'reports'" class="row controls">
        <p class="faint">
          {{ reported ? `Last report ${secondText(reported.at)}` : 'No report yet' }}; one comes
          every {{ REPORT_SECONDS }} s: turn a little, wait for two, and turn again. For sweeps type
          what its own page shows.
        </p>
        <v-btn size="large" :disabled="now === null || isDone" @click="next">{{
          leg < legs.length - 1 ? 'Next sweep' : 'It is locked'
        }}</v-btn>
      </div>
      <div v-else class="row controls">
        <v-btn v-if="!isTurning" size="large" @click="follow"
          >Loosen it and follow the advice</v-btn
        >
        <v-btn v-else size="large" @click="isTurning = false">Stop</v-btn>
      </div>
      <div class="row controls">
        <v-btn color="primary" variant="flat" size="large" :disabled="now === null" @click="keep"
          >Keep this reading</v-btn
        >
        <v-checkbox v-model="isLoud" label="Tone" />
        <v-checkbox v-model="isSpoken" label="Spoken" />
        <v-checkbox
          v-if="reported"
          :model-value="source === 'reports'"
          label="By its reports"
          @update:model-value="(on: boolean | null) => (source = on ? 'reports' : 'typed')"
        />
        <v-checkbox
          :model-value="source === 'standins'"
          label="On the stand-in"
          @update:model-value="(on: boolean | null) => (source = on ? 'standins' : 'typed')"
        />
      </div>
      <Refusal :says="refused" />
      <ul v-if="evidence.length" class="kept">
        <li v-for="e in evidence" :key="e.id">
          <span class="mono faint">{{ timeText(e.at) }}</span> {{ e.body.text }}
          <span v-if="e.unsent" class="mark cautions"
            ><ShellStateShape kind="cautions" />kept here, not sent yet</span
          >
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
.aim {
  max-width: 620px;
}
.caution {
  border-left: 3px solid var(--caution);
  padding-left: 6px;
  margin: 6px 0;
}
.pointing {
  font-size: 15px;
  margin: 4px 0;
}
.board {
  display: flex;
  gap: 24px;
  align-items: flex-end;
}
.number {
  font-family: var(--mono);
  font-size: 72px;
  line-height: 1;
}
.side {
  font-size: 16px;
  display: grid;
  gap: 2px;
}
.bar {
  position: relative;
  height: 26px;
  border: 1px solid var(--ink);
  margin: 8px 0;
  overflow: hidden;
}
.fill {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--action);
}
.peak,
.goal {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 3px;
  background: var(--ink);
}
.goal {
  background: repeating-linear-gradient(var(--proven) 0 4px, transparent 4px 7px);
}
.advice {
  font-size: 17px;
  margin: 4px 0;
  min-height: 1.5em;
}
.meaning {
  border-left: 3px solid var(--caution);
  padding-left: 8px;
  margin: 4px 0;
}
.meaning.as-expected {
  border-color: var(--proven);
}
.controls {
  margin: 6px 0;
}
.controls .v-btn {
  min-height: 44px;
}
.reading {
  min-width: 130px;
  max-width: 180px;
}
.kept {
  padding: 0;
  list-style: none;
  font-size: 13px;
}
</style>
