<script setup lang="ts">
/** Lines by satellite: the sky over the dish as it is drawn on a plate, zenith in the middle. */
import { blockedUpTo, hiddenShare, type Sky } from '@mast/core/bridges'
import type { Uplink } from '@mast/core/plan'

const site = useSite()
const lines = computed(() => site.opened.model.lines)
const isOpen = ref(false)
const shown = computed(() => lines.value.filter((l) => l.sky !== null))
const SIZE = 200
const R = 86
const usual: Sky = {
  cableM: 15,
  toSocketM: 10,
  azimuthDegrees: 0,
  widthDegrees: 360,
  fromDegrees: 25,
  obstacles: [],
}
const refused = ref<string | undefined>()
const set = (line: Uplink, changes: Partial<Sky>): string | undefined =>
  site.edit('changeUplink', {
    id: line.id,
    changes: { sky: { ...usual, ...line.sky, ...changes } },
  })
const at = (azimuth: number, up: number): string => {
  const [r, t] = [(R * (90 - up)) / 90, (azimuth * Math.PI) / 180]
  return `${(SIZE / 2 + Math.sin(t) * r).toFixed(1)} ${(SIZE / 2 - Math.cos(t) * r).toFixed(1)}`
}
/** A band around the horizon, between two heights. */
function band(
  from: number,
  to: number,
  low: (a: number) => number,
  high: (a: number) => number,
): string {
  const angles = Array.from({ length: 181 }, (_, n) => from + ((to - from) * n) / 180)
  return `M${angles.map((a) => at(a, low(a))).join('L')}L${[...angles]
    .reverse()
    .map((a) => at(a, high(a)))
    .join('L')}Z`
}
const needed = (s: Sky): string =>
  band(
    s.azimuthDegrees - s.widthDegrees / 2,
    s.azimuthDegrees + s.widthDegrees / 2,
    () => s.fromDegrees,
    () => 90,
  )
const blocked = (s: Sky): string =>
  band(
    0,
    360,
    () => 0,
    (a) => blockedUpTo(s, a),
  )
const obstacleWords = (s: Sky): string =>
  s.obstacles.map((o) => `${o.name} ${o.fromDegrees}-${o.toDegrees} up ${o.upDegrees}`).join('; ')
function saveObstacles(line: Uplink, text: string): string | undefined {
  const obstacles: Sky['obstacles'] = []
  for (const part of text.split(';').map((t) => t.trim())) {
    if (part === '') continue
    const m = /^(.+?)\s+([\d.]+)\s*-\s*([\d.]+)\s*up\s*([\d.]+)$/i.exec(part)
    if (!m) return `'${part}' is no obstacle; expected for example Cliff 90-200 up 30`
    obstacles.push({
      name: m[1]!,
      fromDegrees: Number(m[2]),
      toDegrees: Number(m[3]),
      upDegrees: Number(m[4]),
    })
  }
  return set(line, { obstacles })
}
</script>

<template>
  <section v-if="lines.length" aria-label="Lines by satellite">
    <details
      :open="shown.length > 0"
      @toggle="(e) => (isOpen = (e.target as HTMLDetailsElement).open)"
    >
      <summary>Lines by satellite</summary>
      <template v-if="isOpen || shown.length">
        <div class="row no-print">
          <v-btn
            v-for="l in lines.filter((x) => x.sky === null)"
            :key="l.id"
            size="small"
            @click="refused = set(l, {})"
            >{{ l.name }} comes by satellite</v-btn
          >
        </div>
        <Refusal :says="refused" />
        <div v-for="l in shown" :key="l.id" class="row top">
          <svg
            class="plate"
            :viewBox="`0 0 ${SIZE} ${SIZE}`"
            role="img"
            :aria-label="
              `The sky over the dish of ${l.name}: ${Math.round(hiddenShare(l.sky!) * 100)} % of ` +
              'what it needs is hidden'
            "
          >
            <path :d="needed(l.sky!)" class="needed" />
            <path v-if="l.sky!.obstacles.length" :d="blocked(l.sky!)" class="blocked" />
            <circle
              v-for="up in [0, 30, 60]"
              :key="up"
              :cx="SIZE / 2"
              :cy="SIZE / 2"
              :r="(R * (90 - up)) / 90"
              class="ring"
            />
            <text
              v-for="(w, n) in ['N', 'E', 'S', 'W']"
              :key="w"
              :x="SIZE / 2 + Math.sin((n * Math.PI) / 2) * 94"
              :y="SIZE / 2 + 4 - Math.cos((n * Math.PI) / 2) * 94"
              text-anchor="middle"
            >
              {{ w }}
            </text>
          </svg>
          <div class="grow">
            <h3>{{ l.name }}</h3>
            <p>
              {{ (hiddenShare(l.sky!) * 100).toFixed(1) }} % of the sky that the dish needs is
              hidden{{
                l.sky!.toSocketM > l.sky!.cableM
                  ? `; its cable is ${(l.sky!.toSocketM - l.sky!.cableM).toFixed(1)} m too short: let ` +
                    'a bridge carry the line'
                  : ''
              }}.
            </p>
            <div class="fields no-print">
              <FieldsEditField
                label="Cable fixed to the dish"
                type="number"
                suffix="m"
                :value="l.sky!.cableM"
                :save="(t) => set(l, { cableM: Number(t) })"
                mono
              />
              <FieldsEditField
                label="To what takes it"
                type="number"
                suffix="m"
                :value="l.sky!.toSocketM"
                :save="(t) => set(l, { toSocketM: Number(t) })"
                mono
              />
              <FieldsEditField
                label="Needs the sky from"
                type="number"
                suffix="° up"
                :value="l.sky!.fromDegrees"
                :save="(t) => set(l, { fromDegrees: Number(t) })"
                mono
              />
              <FieldsEditField
                label="Around"
                type="number"
                suffix="°"
                :value="l.sky!.azimuthDegrees"
                hint="clockwise from north"
                :save="(t) => set(l, { azimuthDegrees: Number(t) })"
                mono
              />
              <FieldsEditField
                label="Wide"
                type="number"
                suffix="°"
                :value="l.sky!.widthDegrees"
                :save="(t) => set(l, { widthDegrees: Number(t) })"
                mono
              />
              <FieldsEditField
                label="What stands there"
                :value="obstacleWords(l.sky!)"
                hint="Cliff 90-200 up 30; Mast 300-305 up 50"
                :save="(t) => saveObstacles(l, t)"
                mono
              />
            </div>
            <v-btn
              class="no-print"
              size="small"
              variant="text"
              @click="refused = site.edit('changeUplink', { id: l.id, changes: { sky: null } })"
              >It does not come by satellite</v-btn
            >
          </div>
        </div>
      </template>
    </details>
  </section>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
.plate {
  width: 200px;
}
.grow {
  flex: 1;
  min-width: 260px;
}
.needed {
  fill: var(--action);
  fill-opacity: 0.1;
}
.blocked {
  fill: var(--ink);
  fill-opacity: 0.5;
}
.ring {
  fill: none;
  stroke: var(--hair);
}
text {
  font-size: 11px;
  fill: var(--ink);
}
</style>
