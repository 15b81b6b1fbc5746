<script setup lang="ts">
/** The lines: their order, how each is tested, what it lies on, how often it is dead. */
import type { LineWatch, Uplink } from '@mast/core/plan'
import {
  antennasInWords,
  partsInWords,
  readAntennas,
  readParts,
  readTests,
  testsInWords,
  usualWatch,
} from '@mast/core/uplinks'
import { exactDuration } from '@mast/core/words'
import type { Column } from '../rows/column'

const site = useSite()
const lines = computed(() => site.opened.model.lines)
/** Whether others of its order share what leaves. */
const isShared = (u: Uplink): boolean => lines.value.some((o) => o !== u && o.rank === u.rank)
const watchWords = ({ watch }: Uplink): string =>
  watch
    ? `every ${exactDuration(watch.intervalSeconds)}, ${watch.failures} to go, ${watch.successes} to return`
    : 'not tested'
const columns: readonly Column<Uplink>[] = [
  {
    key: 'order',
    title: 'Order',
    value: (u) => u.rank + 1,
    text: (u) => (isShared(u) ? `${u.rank + 1}, ${u.weight} parts` : `${u.rank + 1}`),
    mono: true,
  },
  { key: 'name', title: 'Line', value: (u) => u.name },
  {
    key: 'socket',
    title: 'Socket',
    value: (u) => (u.portId ? site.opened.model.portName(u.portId) : 'none yet'),
  },
  { key: 'standby', title: 'Is', value: (u) => (u.standby === 'hot' ? 'always on' : 'started') },
  { key: 'watch', title: 'Tested', value: watchWords },
  { key: 'parts', title: 'Lies on', value: (u) => partsInWords(u.parts) },
  {
    key: 'failing',
    title: 'Dead',
    value: (u) => (u.failing ? u.failing.timesAYear * u.failing.hours : -1),
    text: (u) => (u.failing ? `${u.failing.timesAYear} x ${u.failing.hours} h a year` : '?'),
    mono: true,
  },
]
const change = (u: Uplink, changes: Partial<Uplink>): string | undefined =>
  site.edit('changeUplink', { id: u.id, changes })
const changeWatch = (u: Uplink, changes: Partial<LineWatch>): string | undefined =>
  change(u, { watch: { ...(u.watch ?? usualWatch), ...changes } })
function saveTests(u: Uplink, text: string): string | undefined {
  const read = readTests(text)
  return read.ok ? changeWatch(u, { tests: read.value }) : read.reason
}
function saveParts(u: Uplink, text: string): string | undefined {
  const read = readParts(text)
  return read.ok ? change(u, { parts: read.value }) : read.reason
}
function saveNeed(u: Uplink, text: string): string | undefined {
  const word = text.toLowerCase()
  if (word === 'any' || word === 'all') return changeWatch(u, { need: word })
  return /^\d+$/.test(text)
    ? changeWatch(u, { need: Number(text) })
    : 'any, all, or how many of them'
}
function changeCellular(u: Uplink, changes: Partial<NonNullable<Uplink['cellular']>>) {
  return change(u, {
    cellular: { account: '', card: '', antennas: [], ...u.cellular, ...changes },
  })
}
function saveAntennas(u: Uplink, text: string): string | undefined {
  const read = readAntennas(text)
  return read.ok ? changeCellular(u, { antennas: read.value }) : read.reason
}
const numberOr = (text: string): number | null => (text === '' ? null : Number(text))
function saveFailing(u: Uplink, changes: Partial<NonNullable<Uplink['failing']>>) {
  return change(u, { failing: { timesAYear: 2, hours: 4, ...u.failing, ...changes } })
}
function saveLoss(u: Uplink, text: string): string | undefined {
  return text === ''
    ? change(u, { loss: null })
    : change(u, { loss: { percent: Number(text), bursts: u.loss?.bursts ?? null } })
}
/** `40 % for 20 s every 86400 s`, as three numbers. */
function saveBursts(u: Uplink, text: string): string | undefined {
  const percent = u.loss?.percent ?? 0
  if (text === '') return change(u, { loss: u.loss && { percent, bursts: null } })
  const m =
    /^(\d+(?:\.\d+)?)\s*%?\s+for\s+(\d+(?:\.\d+)?)\s*s?\s+every\s+(\d+(?:\.\d+)?)\s*s?$/i.exec(text)
  return m
    ? change(u, {
        loss: {
          percent,
          bursts: {
            percent: Number(m[1]),
            lengthSeconds: Number(m[2]),
            apartSeconds: Number(m[3]),
          },
        },
      })
    : 'expected for example 40 % for 20 s every 86400 s'
}
const burstWords = ({ loss }: Uplink): string =>
  loss?.bursts
    ? `${loss.bursts.percent} % for ${loss.bursts.lengthSeconds} s every ${loss.bursts.apartSeconds} s`
    : ''
const standbys = [
  { title: 'always on', value: 'hot' },
  { title: 'started when needed', value: 'cold' },
] as const
const schools = [
  { title: 'at once', value: 'at-once' },
  { title: 'counted like a test', value: 'counted' },
] as const
</script>

<template>
  <section v-if="lines.length" aria-label="Lines of the site">
    <h2>Lines</h2>
    <div class="scroll-x">
      <LazyRowsDataTable
        :rows="lines"
        :columns="columns"
        what="lines"
        :open="site.selected"
        :hot="site.pointed"
        @open="(id: string) => (site.selected = id)"
      >
        <template #form="{ row: u }: { row: Uplink }">
          <div class="in-place">
            <div class="fields">
              <InTurns>
                <FieldsEditField
                  label="Order"
                  type="number"
                  :value="u.rank + 1"
                  hint="1 is used first; the same number shares"
                  :save="(t) => change(u, { rank: Number(t) - 1 })"
                  mono
                />
                <FieldsEditField
                  v-if="isShared(u)"
                  label="Takes, in parts"
                  type="number"
                  :value="u.weight"
                  hint="0 waits until the others are dead"
                  :save="(t) => change(u, { weight: Number(t) })"
                  mono
                />
                <v-select
                  label="As a standby it is"
                  :model-value="u.standby"
                  :items="standbys"
                  @update:model-value="(standby: Uplink['standby']) => change(u, { standby })"
                />
                <FieldsEditField
                  label="Until it leads out"
                  type="number"
                  suffix="s"
                  :value="u.startSeconds"
                  hint="once its modem is switched on"
                  :save="(t) => change(u, { startSeconds: numberOr(t) })"
                  mono
                />
                <FieldsEditField
                  label="What is asked"
                  :value="testsInWords(u.watch?.tests ?? [])"
                  hint="ping 198.51.100.53; tcp www.example port 443"
                  :save="(t) => saveTests(u, t)"
                  class="wide"
                />
                <FieldsEditField
                  label="Have to answer"
                  :value="String(u.watch?.need ?? usualWatch.need)"
                  hint="any, all, or how many"
                  :save="(t) => saveNeed(u, t)"
                />
                <FieldsEditField
                  label="Every"
                  type="number"
                  suffix="s"
                  :value="u.watch?.intervalSeconds ?? null"
                  :save="(t) => changeWatch(u, { intervalSeconds: Number(t) })"
                  mono
                />
                <FieldsEditField
                  label="An answer takes at most"
                  type="number"
                  suffix="s"
                  :value="u.watch?.answerSeconds ?? null"
                  :save="(t) => changeWatch(u, { answerSeconds: Number(t) })"
                  mono
                />
                <FieldsEditField
                  label="Failures to go"
                  type="number"
                  :value="u.watch?.failures ?? null"
                  :save="(t) => changeWatch(u, { failures: Number(t) })"
                  mono
                />
                <FieldsEditField
                  label="Successes to return"
                  type="number"
                  :value="u.watch?.successes ?? null"
                  :save="(t) => changeWatch(u, { successes: Number(t) })"
                  mono
                />
                <v-select
                  label="A signal that is gone counts"
                  :model-value="u.watch?.linkLoss ?? usualWatch.linkLoss"
                  :items="schools"
                  @update:model-value="
                    (linkLoss: LineWatch['linkLoss']) => changeWatch(u, { linkLoss })
                  "
                />
                <v-checkbox
                  label="Its modem keeps the signal when the line is dead"
                  :model-value="u.keepsSignal"
                  @update:model-value="(v: boolean | null) => change(u, { keepsSignal: !!v })"
                />
                <v-checkbox
                  label="What goes by it is inspected"
                  :model-value="u.isInspected"
                  @update:model-value="(v: boolean | null) => change(u, { isInspected: !!v })"
                />
                <FieldsEditField
                  label="What it lies on"
                  :value="partsInWords(u.parts)"
                  hint="duct Quay road (0.2 a year, 20 h); power strip Cupboard"
                  :save="(t) => saveParts(u, t)"
                  class="wide"
                />
                <template v-if="u.handOff.mode === 'cellular'">
                  <FieldsEditField
                    label="Account"
                    :value="u.cellular?.account ?? ''"
                    hint="who pays, as the provider knows them"
                    :save="(account) => changeCellular(u, { account })"
                  />
                  <FieldsEditField
                    label="SIM card"
                    :value="u.cellular?.card ?? ''"
                    :save="(card) => changeCellular(u, { card })"
                    mono
                  />
                  <FieldsEditField
                    label="Antennas, each with its socket"
                    :value="antennasInWords(u.cellular?.antennas ?? [])"
                    hint="Mast, main: A; Mast, second: B"
                    :save="(t) => saveAntennas(u, t)"
                    class="wide"
                  />
                </template>
                <FieldsEditField
                  label="Dead, times a year"
                  type="number"
                  :value="u.failing?.timesAYear ?? null"
                  :save="(t) => saveFailing(u, { timesAYear: Number(t) })"
                  mono
                />
                <FieldsEditField
                  label="Each time for"
                  type="number"
                  suffix="h"
                  :value="u.failing?.hours ?? null"
                  :save="(t) => saveFailing(u, { hours: Number(t) })"
                  mono
                />
                <FieldsEditField
                  label="Usual loss"
                  type="number"
                  suffix="%"
                  :value="u.loss?.percent ?? null"
                  :save="(t) => saveLoss(u, t)"
                  mono
                />
                <FieldsEditField
                  label="Bursts of loss"
                  :value="burstWords(u)"
                  hint="40 % for 20 s every 86400 s"
                  :save="(t) => saveBursts(u, t)"
                />
              </InTurns>
            </div>
          </div>
        </template>
      </LazyRowsDataTable>
    </div>
  </section>
</template>

<style scoped>
.wide {
  grid-column: span 2;
}
@media (max-width: 600px) {
  .wide {
    grid-column: auto;
  }
}
</style>
