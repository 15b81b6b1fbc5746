<script setup lang="ts">
/** What lies on the path, what is asked of the bridge, and a trial reading. */
import { climates, obstacleKinds, type Bridge, type Obstacle } from '@mast/core/plan'
import { CLEAR_SHARE, grownInOn, usualRainMmH, withGround } from '@mast/core/bridges'
import { wrap } from 'comlink'
import type { GroundWorker } from '~/workers/ground.worker'
import { useBridge } from './useBridge'

const { bridge, reckoned, change, today } = useBridge()
const refused = ref<string | undefined>()
const kindItems = obstacleKinds.map((value) => ({
  title: {
    building: 'building',
    trees: 'trees',
    masts: 'masts of boats',
    crane: 'crane',
    hill: 'hill',
  }[value],
  value,
}))
const climateItems = climates.map((value) => ({ title: value, value }))
const numberOr = (text: string): number | null => (text === '' ? null : Number(text))
const rows = computed(() =>
  (bridge.value?.obstacles ?? []).map((o, n) => {
    const own = reckoned.value?.budget.losses.points.filter((p) => p.obstacle === n) ?? []
    const worst = own.reduce<(typeof own)[number] | undefined>(
      (w, p) => (w === undefined || p.share < w.share ? p : w),
      undefined,
    )
    const day = reckoned.value ? grownInOn(reckoned.value.budget.facts, n, today) : null
    return { o, n, worst, day }
  }),
)
const setObstacle = (n: number, changes: Partial<Obstacle>): string | undefined =>
  change({
    obstacles: (bridge.value?.obstacles ?? []).map((o, i) => (i === n ? { ...o, ...changes } : o)),
  })
function add(): void {
  const metres = reckoned.value?.budget.facts.way.metres ?? 100
  refused.value = change({
    obstacles: [
      ...(bridge.value?.obstacles ?? []),
      {
        name: `Obstacle ${(bridge.value?.obstacles.length ?? 0) + 1}`,
        kind: 'trees',
        atM: Math.round(metres / 2),
        lengthM: 0,
        topM: 5,
        growsM: 0.3,
        measuredOn: today.toISOString().slice(0, 10),
      },
    ],
  })
}
const remove = (n: number): void => {
  refused.value = change({ obstacles: (bridge.value?.obstacles ?? []).filter((_, i) => i !== n) })
}
const said = ref<string | null>(null)
const problems = ref<readonly string[]>([])
async function read(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  const facts = reckoned.value?.budget.facts
  refused.value = undefined
  said.value = null
  problems.value = []
  if (file && facts) {
    const thread = new Worker(new URL('../../workers/ground.worker.ts', import.meta.url), {
      type: 'module',
    })
    const found = await wrap<GroundWorker>(thread)
      .read(file.name, file, { ...facts.a.at }, { ...facts.b.at })
      .catch((error: unknown) => ({ problem: errorText(error) }))
    thread.terminate()
    if ('problem' in found) refused.value = `${file.name}: ${found.problem}.`
    else {
      refused.value = change({ ground: withGround(bridge.value?.ground ?? [], found.ground) })
      problems.value = found.problems.slice(0, 12)
      if (!refused.value) said.value = `${file.name}: ${found.said}.`
    }
  }
  input.value = ''
}
function saveWanted(which: 'toB' | 'toA', text: string): string | undefined {
  const now = bridge.value?.wantedMbps
  if (text === '') return change({ wantedMbps: null })
  return change({ wantedMbps: { toB: 0, toA: 0, ...now, [which]: Number(text) } })
}
function saveTrial(text: string): string | undefined {
  if (text === '') return change({ trial: null })
  const m =
    /^(-?[\d.]+)\s*(?:dBm)?\s*with\s*([\d.]+)\s*(?:dBi)?\s*at\s*([ab])(?:\s*on\s*(\d{4}-\d\d-\d\d))?$/i.exec(
      text,
    )
  return m
    ? change({
        trial: {
          dbm: Number(m[1]),
          gainDbi: Number(m[2]),
          end: m[3]!.toLowerCase() as 'a' | 'b',
          takenOn: m[4] ?? null,
        },
      })
    : 'expected for example -71 dBm with 13 dBi at B'
}
const trialWords = ({ trial }: Bridge): string =>
  trial
    ? `${trial.dbm} dBm with ${trial.gainDbi} dBi at ` +
      `${trial.end.toUpperCase()}${trial.takenOn ? ` on ${trial.takenOn}` : ''}`
    : ''
function saveHeard(text: string): string | undefined {
  const heard: Bridge['heard'] = []
  for (const part of text.split(';').map((t) => t.trim())) {
    if (part === '') continue
    const m =
      /^([ab])\s+(-?[\d.]+)\s*(?:dBm)?\s*at\s*([\d.]+)\s*(?:MHz)?(?:\s*,\s*([\d.]+)\s*wide)?$/i.exec(
        part,
      )
    if (!m) return `'${part}' is nothing heard; expected for example A -80 dBm at 5600 MHz, 40 wide`
    heard.push({
      end: m[1]!.toLowerCase() as 'a' | 'b',
      dbm: Number(m[2]),
      mhz: Number(m[3]),
      widthMhz: Number(m[4] ?? 20),
    })
  }
  return change({ heard })
}
const heardWords = ({ heard }: Bridge): string =>
  heard
    .map((h) => `${h.end.toUpperCase()} ${h.dbm} dBm at ${h.mhz} MHz, ${h.widthMhz} wide`)
    .join('; ')
</script>

<template>
  <section v-if="bridge" aria-label="On the way">
    <h2>On the way</h2>
    <div class="scroll-x">
      <table v-if="rows.length" class="plain" aria-label="Obstacles">
        <thead>
          <tr>
            <th>What</th>
            <th>Is</th>
            <th>From A, m</th>
            <th>Long, m</th>
            <th>Top, m</th>
            <th>A year, m</th>
            <th>Zone free</th>
            <th>Grown in by</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ o, n, worst, day } in rows" :key="n">
            <td>
              <FieldsEditField
                label="Name"
                :value="o.name"
                :save="(t) => setObstacle(n, { name: t })"
              />
            </td>
            <td>
              <v-select
                :aria-label="`What ${o.name} is`"
                :model-value="o.kind"
                :items="kindItems"
                @update:model-value="
                  (kind: Obstacle['kind']) => (refused = setObstacle(n, { kind }))
                "
              />
            </td>
            <td>
              <FieldsEditField
                label="At"
                type="number"
                :value="o.atM"
                :save="(t) => setObstacle(n, { atM: Number(t) })"
                mono
              />
            </td>
            <td>
              <FieldsEditField
                label="Long"
                type="number"
                :value="o.lengthM"
                :save="(t) => setObstacle(n, { lengthM: Number(t) })"
                mono
              />
            </td>
            <td>
              <FieldsEditField
                label="Top"
                type="number"
                :value="o.topM"
                :save="(t) => setObstacle(n, { topM: Number(t) })"
                mono
              />
            </td>
            <td>
              <FieldsEditField
                label="Grows"
                type="number"
                :value="o.growsM"
                :save="(t) => setObstacle(n, { growsM: Number(t) })"
                mono
              />
            </td>
            <td class="mono" :class="{ bad: worst && worst.share < CLEAR_SHARE }">
              {{
                worst
                  ? `${Math.round(worst.share * 100)} %, ${worst.clearM.toFixed(1)} m`
                  : 'beyond the path'
              }}
            </td>
            <td class="mono">{{ day ? day.toISOString().slice(0, 7) : 'never' }}</td>
            <td>
              <v-btn
                class="no-print"
                size="small"
                variant="text"
                :aria-label="`Remove ${o.name}`"
                @click="remove(n)"
                >Remove</v-btn
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="rows.length === 0" class="faint">
      Nothing is entered. Ranges that are told hold only with nothing in the way.
    </p>
    <div class="row no-print">
      <v-btn @click="add">Add an obstacle</v-btn>
      <label class="pick"
        >Read the ground<input
          type="file"
          class="visually-hidden"
          accept=".hgt,.tif,.tiff,.csv,.txt,.kml,.json,.geojson"
          aria-label="Read the ground"
          @change="read"
      /></label>
      <span class="faint"
        >{{ bridge.ground.length }} heights of the ground. A tile (.hgt), a GeoTIFF, a table of
        distance and height, a path of KML or GeoJSON.</span
      >
      <v-btn
        v-if="bridge.ground.length"
        variant="text"
        size="small"
        @click="refused = change({ ground: [] })"
        >Forget the ground</v-btn
      >
    </div>
    <p v-if="said" role="status">{{ said }}</p>
    <ul v-if="problems.length">
      <li v-for="p in problems" :key="p">{{ p }}</li>
    </ul>
    <Refusal :says="refused" />
    <h2>What is asked of it</h2>
    <div class="fields no-print">
      <FieldsEditField label="Name" :value="bridge.name" :save="(name) => change({ name })" />
      <FieldsEditField
        label="To carry from A to B"
        type="number"
        suffix="Mbit/s"
        :value="bridge.wantedMbps?.toB ?? null"
        hint="empty: what hangs behind it"
        :save="(t) => saveWanted('toB', t)"
        mono
      />
      <FieldsEditField
        label="And from B to A"
        type="number"
        suffix="Mbit/s"
        :value="bridge.wantedMbps?.toA ?? null"
        hint="empty: what hangs behind it"
        :save="(t) => saveWanted('toA', t)"
        mono
      />
      <FieldsEditField
        label="Of the year"
        type="number"
        suffix="%"
        :value="bridge.availabilityPercent"
        :save="(t) => change({ availabilityPercent: Number(t) })"
        mono
      />
      <v-select
        label="Climate"
        :model-value="bridge.climate"
        :items="climateItems"
        @update:model-value="(climate: Bridge['climate']) => (refused = change({ climate }))"
      />
      <FieldsEditField
        label="Rain of 0.01 % of the year"
        type="number"
        suffix="mm/h"
        :value="bridge.rainMmH"
        :hint="`empty: ${usualRainMmH[bridge.climate]}, roughly`"
        :save="(t) => change({ rainMmH: numberOr(t) })"
        mono
      />
      <FieldsEditField
        label="Strongest gust"
        type="number"
        suffix="m/s"
        :value="bridge.gustMs"
        :save="(t) => change({ gustMs: numberOr(t) })"
        mono
      />
      <FieldsEditField
        label="Licence of this path allows"
        type="number"
        suffix="dBm"
        :value="bridge.licensedDbm"
        hint="EIRP; empty: none"
        :save="(t) => change({ licensedDbm: numberOr(t) })"
        mono
      />
      <FieldsEditField
        label="Trial reading"
        :value="trialWords(bridge)"
        hint="-71 dBm with 13 dBi at B"
        :save="saveTrial"
        mono
      />
      <FieldsEditField
        label="Heard of others"
        :value="heardWords(bridge)"
        hint="A -80 dBm at 5600 MHz, 40 wide; B ..."
        :save="saveHeard"
        mono
      />
    </div>
  </section>
</template>

<style scoped>
.bad {
  color: var(--blocker);
}
td :deep(.v-messages) {
  min-height: 0;
}
td {
  min-width: 70px;
  padding: 10px 8px 2px 0 !important;
}
td:first-child {
  min-width: 160px;
}
td:nth-child(2) {
  min-width: 142px;
}
</style>
