<script setup lang="ts">
/** The place to scale: walls, who is where, what hangs where, and who is served by what. */
import { pathOf, readPhotograph } from '@mast/api'
import type { Floor } from '@mast/core/plan'
import { bands, materials, percentOf, type Band } from '@mast/core/radio'
import { USUAL_CLIENT } from '@mast/core/wifi'
import { pointsOf } from '@mast/core/wifi/drawing'
import type { FloorFit } from '@mast/core/wifi'
import { LETTER_PX, namesWithRoom } from './namesWithRoom'
import { answerWords, formulaWords, pointWords } from './placeWords'
import { usePlaceAir } from './usePlaceAir'
import { useZoom } from './useZoom'
import type { Outline } from '~/workers/outlines'

const site = useSite()
const field = useField()
const plan = useLater(() => site.opened.plan)
const floors = computed(() => Object.values(plan.value.floors))
const chosen = ref<string | null>(null)
const floor = computed(
  () => floors.value.find((f) => f.id === chosen.value) ?? floors.value[0] ?? null,
)
const band = ref<Band>('5')
const bandItems = bands.map((value) => ({ title: `${value} GHz`, value }))
const clientId = ref<string | null>(null)
const clients = computed(() => [
  { title: 'the usual client', value: null },
  ...Object.values(plan.value.clientTypes).map((c) => ({ title: c.name, value: c.id })),
])
const client = computed(() => plan.value.clientTypes[clientId.value ?? ''] ?? USUAL_CLIENT)
const { drawn, isWorking, stop } = usePlaceAir(() =>
  floor.value
    ? { plan: plan.value, floorId: floor.value.id, band: band.value, client: client.value }
    : null,
)

const walls = computed(() =>
  Object.values(plan.value.walls).filter((w) => w.floorId === floor.value?.id),
)
const areas = computed(() =>
  Object.values(plan.value.areas).filter((a) => a.floorId === floor.value?.id),
)
const points = computed(() =>
  Object.values(plan.value.devices).filter((d) =>
    ['access-point', 'range-extender'].includes(plan.value.profiles[d.profileId]?.kind ?? ''),
  ),
)
const here = computed(() =>
  points.value.filter((d) => d.place !== null && d.place.floorId === floor.value?.id),
)
const elsewhere = computed(() => points.value.filter((d) => d.place === null))

/** The first glance. */
const answer = computed(() => {
  if (!drawn.value || !floor.value) return null
  const who = clients.value.find((c) => c.value === clientId.value)?.title ?? ''
  return answerWords(plan.value, drawn.value, band.value, { ...client.value, name: who })
})

/** On the drawing, m. */
const svg = ref<SVGSVGElement>()
const stage = ref<SVGGElement>()
const { transform, nearness, isZoomed, zoomBy, whole } = useZoom(svg, '.point')
const SNAP_M = 0.5
/** No higher than that, so that what follows is seen. */
const MOST_PX = 480
function at(e: PointerEvent | MouseEvent): { x: number; y: number } {
  const { x, y } = new DOMPoint(e.clientX, e.clientY).matrixTransform(
    stage.value!.getScreenCTM()!.inverse(),
  )
  return { x, y }
}
const corners = computed(() => walls.value.flatMap((w) => w.points))
/** To a corner that is near, else to half a metre. */
function snapped(p: { x: number; y: number }): { x: number; y: number } {
  const near = corners.value.find((c) => Math.hypot(c.x - p.x, c.y - p.y) < 2 * SNAP_M)
  const snap = (n: number, most: number): number =>
    Math.min(most, Math.max(0, Math.round(n / SNAP_M) * SNAP_M))
  return near ?? { x: snap(p.x, floor.value!.widthM), y: snap(p.y, floor.value!.depthM) }
}

const refused = ref<string | undefined>()
/** Corners of what is being drawn; null while nothing is. */
const drawing = ref<{ x: number; y: number }[] | null>(null)
const tools = ref<{ finish: () => void }>()
/** The wall or area whose corners are on the plan to be moved. */
const chosenId = ref<string | null>(null)
const opened = computed(
  () =>
    walls.value.find((w) => w.id === chosenId.value) ??
    areas.value.find((a) => a.id === chosenId.value) ??
    null,
)
const openedName = computed(() =>
  opened.value && 'material' in opened.value
    ? `the ${materials[opened.value.material].name}`
    : (opened.value?.name ?? ''),
)
function reshape(id: string, corners_: readonly { x: number; y: number }[]): string | undefined {
  const f = floor.value!
  const points = corners_.map((p) => ({
    x: centimetre(Math.min(f.widthM, Math.max(0, p.x))),
    y: centimetre(Math.min(f.depthM, Math.max(0, p.y))),
  }))
  return (refused.value = site.edit(plan.value.walls[id] ? 'changeWall' : 'changeArea', {
    id,
    changes: { points },
  }))
}
/** Two points and their distance bring the picture to scale; taps say them while it is asked. */
const ends = ref<string | null>(null)
const picture = computed(() => {
  const f = floor.value
  if (!f?.picture) return null
  const unsent = field.evidence.find((e) => e.id === f.picture!.fileId)?.unsent?.picture
  return {
    ...f.picture,
    href:
      unsent ?? pathOf(readPhotograph, { params: { site: site.opened.id, id: f.picture.fileId } }),
  }
})
const isEmpty = computed(() => walls.value.length + areas.value.length + here.value.length === 0)
/** Places that are proposed, and what readings are off by, drawn while they are looked at. */
const proposed = ref<readonly { x: number; y: number }[]>([])
const marks = shallowRef<readonly Outline[]>([])
const residuals = ref<FloorFit['residuals']>([])
const probe = ref<{ x: number; y: number } | null>(null)
watch(
  () => floor.value?.id,
  () => {
    probe.value = drawing.value = ends.value = chosenId.value = null
    whole()
  },
)
function tap(e: MouseEvent): void {
  if (drawing.value) drawing.value = [...drawing.value, snapped(at(e))]
  else if (ends.value !== null) {
    const { x, y } = at(e)
    const before = pointsOf(ends.value) ?? []
    ends.value = [...before.slice(-1), { x: centimetre(x), y: centimetre(y) }]
      .map((p) => `${p.x},${p.y}`)
      .join(' ')
  } else probe.value = at(e)
}
const found = computed(() =>
  drawn.value && probe.value ? pointWords(plan.value, drawn.value, probe.value) : null,
)
const formula = computed(() => {
  const [d, p, f] = [drawn.value, probe.value, floor.value]
  return d && p && f ? formulaWords(site.opened.model, f, band.value, d, p) : null
})

/** An access point that is dragged: where it is now, and how far from its middle it was taken. */
const dragged = ref<{ id: string; x: number; y: number } | null>(null)
let grip = { x: 0, y: 0 }
function take(e: PointerEvent, id: string): void {
  const { place } = plan.value.devices[id]!
  if (drawing.value || !place) return
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
  const p = at(e)
  grip = { x: place.x - p.x, y: place.y - p.y }
  dragged.value = { id, x: place.x, y: place.y }
}
function drag(e: PointerEvent): void {
  if (!dragged.value) return
  const p = at(e)
  dragged.value = { ...dragged.value, x: p.x + grip.x, y: p.y + grip.y }
}
function drop(): void {
  const d = dragged.value
  dragged.value = null
  const place = d && plan.value.devices[d.id]?.place
  // Taken and let go where it hangs, it stays.
  if (d && place && Math.hypot(d.x - place.x, d.y - place.y) > unit.value) put(d.id, d)
}
const centimetre = (n: number): number => Math.round(n * 100) / 100
function put(id: string, p: { x: number; y: number }): string | undefined {
  const f = floor.value!
  const { place } = plan.value.devices[id]!
  return (refused.value = site.edit('changeDevice', {
    id,
    changes: {
      place: {
        floorId: f.id,
        x: centimetre(Math.min(f.widthM, Math.max(0, p.x))),
        y: centimetre(Math.min(f.depthM, Math.max(0, p.y))),
        heightM: place?.heightM ?? 2.5,
        degrees: place?.degrees ?? 0,
        stays: place?.stays ?? false,
      },
    },
  }))
}
function key(e: KeyboardEvent, id: string): void {
  const { place } = plan.value.devices[id]!
  const moved = place && arrowMove(e, place)
  if (!moved) return
  e.preventDefault()
  put(id, moved)
}
const positionOf = (d: { id: string; place: { x: number; y: number } | null }) =>
  dragged.value?.id === d.id ? dragged.value : d.place!

const path = (list: readonly { x: number; y: number }[]): string =>
  `M${list.map((p) => `${p.x} ${p.y}`).join('L')}`
const changeFloor = (changes: Partial<Floor>): string | undefined =>
  site.edit('changeFloor', { id: floor.value!.id, changes })
const radioOf = (id: string) => drawn.value?.radios.find((r) => r.deviceId === id)
/** A pixel of the screen, whatever the scale, m. */
const { width: widePx } = useElementSize(svg)
const unit = computed(
  () => (floor.value?.widthM ?? 100) / (widePx.value || USUAL_PX) / nearness.value,
)
const USUAL_PX = 900
/** With a telephone in the hand what is typed stands right under the plan. */
const isNarrow = useMediaQuery('(max-width: 600px)')
/** Those that lie on none that stands already; nearer there is room for more. */
const named = computed(() => {
  const u = unit.value
  return namesWithRoom(
    [
      ...here.value.map((d) => {
        const { x, y } = positionOf(d)
        const text = labelOf(d)
        return { id: d.id, text, x: middleOf(text, x), y: y - u * 17 }
      }),
      ...areas.value.map((a) => {
        const text = `${a.name} ${a.heads}`
        const [{ x, y }] = a.points as [{ x: number; y: number }]
        return { id: a.id, text, x: x + u * (4 + (text.length * LETTER_PX) / 2), y: y + u * 12 }
      }),
    ],
    u,
  )
})
/** Where the middle of a name is, so that it does not stand out of the plan, m. */
function middleOf(text: string, x: number): number {
  const half = (text.length * unit.value * LETTER_PX) / 2
  return Math.max(half, Math.min((floor.value?.widthM ?? 0) - half, x))
}
const labelOf = (d: { id: string; name: string }): string =>
  `${d.name}${radioOf(d.id)?.channel ? ` ${radioOf(d.id)!.channel}` : ''}`
</script>

<template>
  <section aria-label="The place" class="place">
    <p v-if="answer" role="status" data-drawing class="answer">{{ answer }}</p>
    <p v-else-if="!floor" data-drawing class="lead">
      Nothing is drawn yet. Say how large the place is; walls and access points go onto it.
    </p>
    <div v-if="floor" class="row no-print">
      <v-select
        :model-value="floor.id"
        label="Plan of the place"
        :items="floors"
        item-title="name"
        item-value="id"
        style="max-width: 300px"
        @update:model-value="(id: string) => (chosen = id)"
      />
      <v-select v-model="band" label="Band" :items="bandItems" style="max-width: 120px" />
      <v-select v-model="clientId" label="For" :items="clients" style="max-width: 240px" />
      <v-select
        v-if="elsewhere.length"
        :model-value="null"
        label="Hang here"
        :items="elsewhere"
        item-title="name"
        item-value="id"
        style="max-width: 200px"
        @update:model-value="
          (id: string | null) => id && put(id, { x: floor!.widthM / 2, y: floor!.depthM / 2 })
        "
      />
      <span class="faint working" :class="{ idle: !isWorking }"
        >{{ drawn ? 'getting finer' : 'working it out' }}
        <v-btn size="small" variant="text" @click="stop">Stop</v-btn></span
      >
    </div>
    <div v-if="floor" class="scroll-x drawn">
      <svg
        ref="svg"
        :viewBox="`0 0 ${floor.widthM} ${floor.depthM}`"
        class="drawing"
        :class="{ draws: drawing || ends !== null, zoomed: isZoomed }"
        :style="{ maxWidth: `${(MOST_PX * floor.widthM) / floor.depthM}px` }"
        role="group"
        :aria-label="answer ?? floor.name"
        @click="tap"
        @dblclick.prevent="tools?.finish()"
        @pointermove="drag"
        @pointerup="drop"
      >
        <g ref="stage" :transform="transform">
          <rect :width="floor.widthM" :height="floor.depthM" class="ground" />
          <image
            v-if="picture"
            :href="picture.href"
            :x="picture.x"
            :y="picture.y"
            :width="picture.widthM"
            :height="picture.depthM"
            preserveAspectRatio="none"
            class="picture"
          />
          <path
            v-for="(o, n) in drawn?.outlines"
            :key="o.dbm"
            :d="o.path"
            class="level"
            :class="`level-${n}`"
            :stroke-width="unit"
          />
          <path
            v-for="m in marks"
            :key="`mark ${m.dbm}`"
            :d="m.path"
            class="mark-line"
            :stroke-width="unit * 1.5"
          >
            <title>{{ percentOf(m.dbm) }} %</title>
          </path>
          <g v-memo="[plan.walls, plan.areas, floor.id, unit, chosenId]">
            <path
              v-for="a in areas"
              :key="a.id"
              :d="`${path(a.points)}Z`"
              :class="`area-${a.kind}`"
              :stroke-width="unit * 1.2"
            >
              <title>{{ a.name }}</title>
            </path>
            <path
              v-for="w in walls"
              :key="w.id"
              :d="path(w.points)"
              class="wall"
              :class="{ chosen: w.id === chosenId }"
              :stroke-width="
                unit * (w.material === 'plasterboard' || w.material === 'glass' ? 2 : 4)
              "
              @dblclick.stop="chosenId = w.id"
            >
              <title>{{ materials[w.material].name }}</title>
            </path>
          </g>
          <path v-if="drawing?.length" :d="path(drawing)" class="new" :stroke-width="unit * 3" />
          <text
            v-for="a in areas.filter((x) => x.kind === 'people' && named.has(x.id))"
            :key="`${a.id} name`"
            :x="a.points[0]!.x + unit * 4"
            :y="a.points[0]!.y + unit * 16"
            class="small"
            :font-size="unit * 12"
            :stroke-width="unit * 3"
          >
            {{ a.name }} {{ a.heads }}
          </text>
          <g
            v-for="d in here"
            :key="d.id"
            tabindex="0"
            role="button"
            class="point"
            :aria-label="`${d.name} at ${d.place!.x}, ${d.place!.y} m: arrows move it`"
            @pointerdown.stop="(e) => take(e, d.id)"
            @keydown="(e) => key(e, d.id)"
            @click.stop
          >
            <path
              :d="`M${positionOf(d).x} ${positionOf(d).y - unit * 9}l${unit * 8} ${unit * 14}h${-unit * 16}z`"
              :stroke-width="unit * 1.5"
            />
            <text
              :x="middleOf(labelOf(d), positionOf(d).x)"
              :y="positionOf(d).y - unit * 13"
              text-anchor="middle"
              :font-size="unit * 12"
              :stroke-width="unit * 3"
            >
              {{ named.has(d.id) ? labelOf(d) : '' }}
            </text>
            <title>{{ labelOf(d) }}</title>
          </g>
          <WifiCorners
            v-if="opened && !drawing"
            :name="openedName"
            :points="opened.points"
            :unit="unit"
            :at="at"
            :snapped="snapped"
            @moved="(list) => reshape(opened!.id, list)"
            @removed="
              (n) =>
                reshape(
                  opened!.id,
                  opened!.points.filter((_, i) => i !== n),
                )
            "
          />
          <circle
            v-for="(p, n) in ends === null ? [] : (pointsOf(ends) ?? [])"
            :key="`end ${n}`"
            :cx="p.x"
            :cy="p.y"
            :r="unit * 4"
            class="probe"
            :stroke-width="unit * 2"
          />
          <circle
            v-if="probe"
            :cx="probe.x"
            :cy="probe.y"
            :r="unit * 5"
            class="probe"
            :stroke-width="unit * 2"
          />
          <rect
            v-for="(o, n) in floor.outlets"
            :key="`outlet ${n}`"
            :x="o.x - unit * 3"
            :y="o.y - unit * 3"
            :width="unit * 6"
            :height="unit * 6"
            class="outlet"
            :stroke-width="unit * 1.5"
          >
            <title>outlet</title>
          </rect>
          <circle
            v-for="(r, n) in residuals"
            :key="`residual ${n}`"
            :cx="r.x"
            :cy="r.y"
            :r="unit * Math.min(9, 1.5 + Math.abs(r.db))"
            :class="r.db < 0 ? 'worse' : 'better'"
          >
            <title>{{ r.db.toFixed(1) }} dB {{ r.db < 0 ? 'under' : 'over' }} the model</title>
          </circle>
          <path
            v-for="(p, n) in proposed"
            :key="`proposed ${n}`"
            :d="`M${p.x} ${p.y - unit * 9}l${unit * 8} ${unit * 14}h${-unit * 16}z`"
            class="new"
            :stroke-width="unit * 2"
          >
            <title>proposed {{ n + 1 }}</title>
          </path>
        </g>
      </svg>
    </div>
    <p v-if="floor" class="faint legend">
      <span v-for="(dbm, n) in [-75, -67, -60, -50]" :key="dbm"
        ><svg width="16" height="12" viewBox="0 0 16 12" aria-hidden="true">
          <rect width="16" height="12" class="level" :class="`level-${n}`" /></svg
        >{{ ' ' }}{{ dbm }} dBm ({{ percentOf(dbm) }} %) and better</span
      >
      <span
        >{{ floor.widthM }} x {{ floor.depthM }} m, N {{ floor.coefficient }} (ITU-R P.1238)</span
      >
    </p>
    <div v-if="found" role="status">
      <p>{{ found }}</p>
      <p v-if="formula" class="mono formula">{{ formula }}</p>
    </div>
    <p v-else-if="floor" class="faint no-print">
      Tap the plan for the numbers at a point; drag an access point, or move it with the arrows.
    </p>
    <Refusal :says="refused" />
    <LazyWifiMeasured
      v-if="floor && isNarrow"
      :floor="floor"
      :band="band"
      :probe="probe"
      :points="here"
      @residuals="(list) => (residuals = list)"
    />
    <WifiDrawTools v-if="floor" ref="tools" v-model:drawing="drawing" :floor="floor">
      <v-btn size="small" variant="text" aria-label="Nearer" @click="zoomBy(1.6)">+</v-btn>
      <v-btn size="small" variant="text" aria-label="Further" @click="zoomBy(1 / 1.6)">-</v-btn>
      <v-btn v-if="isZoomed" size="small" variant="text" @click="whole">All of it</v-btn>
      <template #after>
        <FieldsEditField
          label="Distance coefficient"
          :value="floor.coefficient"
          type="number"
          :save="(t) => changeFloor({ coefficient: Number(t) })"
          mono
        />
      </template>
    </WifiDrawTools>
    <WifiPlaceLies v-if="floor" :floor="floor" />
    <WifiPlacePicture v-if="floor" v-model:ends="ends" :floor="floor" :is-empty="isEmpty" />
    <template v-if="floor">
      <WifiPlaceList :points="here" :drawn="drawn" />
      <WifiWalls v-model:chosen="chosenId" :floor="floor" :walls="walls" :reshape="reshape" />
    </template>
    <template v-if="floor">
      <LazyWifiAreas v-model:chosen="chosenId" :floor="floor" :reshape="reshape" />
      <LazyWifiClients />
      <LazyWifiChannels :band="band" />
      <LazyWifiPower :band="band" :client="client" />
      <LazyWifiProposals
        :floor="floor"
        :band="band"
        :client="client"
        @proposed="(list) => (proposed = list)"
      />
      <LazyWifiMeasured
        v-if="!isNarrow"
        :floor="floor"
        :band="band"
        :probe="probe"
        :points="here"
        @residuals="(list) => (residuals = list)"
      />
      <LazyWifiExtenders :floor="floor" :probe="probe" @marks="(list) => (marks = list)" />
    </template>
    <WifiNewPlace @added="(id) => (chosen = id)" />
  </section>
</template>

<style scoped>
.answer {
  font-size: 18px;
  max-width: 74ch;
  /* Whatever it says, the plan stays where it is under the pointer. */
  min-height: 3em;
}
.working {
  white-space: nowrap;
}
.idle {
  visibility: hidden;
}
.drawing {
  width: 100%;
  min-width: 320px;
  border: 1px solid var(--hair);
  touch-action: pan-x pan-y;
}
.draws {
  cursor: crosshair;
}
.ground {
  fill: var(--paper);
}
.picture {
  opacity: 0.55;
  mix-blend-mode: multiply;
}
.v-theme--night .picture {
  filter: invert(1) hue-rotate(180deg);
  mix-blend-mode: screen;
}
.level {
  fill: var(--action);
  fill-opacity: 0.13;
  stroke: var(--action);
  stroke-opacity: 0.5;
}
.level-0 {
  fill-opacity: 0.08;
}
.drawn {
  margin-top: 8px;
}
.zoomed {
  touch-action: none;
}
.mark-line {
  fill: none;
  stroke: var(--ink);
  stroke-dasharray: 1 0.6;
}
.outlet {
  fill: var(--paper);
  stroke: var(--ink);
}
.worse {
  fill: var(--blocker);
  fill-opacity: 0.55;
}
.better {
  fill: var(--proven);
  fill-opacity: 0.55;
}
.formula {
  font-size: 13px;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
}
.legend .level-1 {
  fill-opacity: 0.2;
}
.legend .level-2 {
  fill-opacity: 0.32;
}
.legend .level-3 {
  fill-opacity: 0.45;
}
.area-people {
  fill: none;
  stroke: var(--proven);
}
.area-keep-out {
  fill: var(--blocker);
  fill-opacity: 0.08;
  stroke: var(--blocker);
  stroke-dasharray: 2 1;
}
.area-boundary {
  fill: none;
  stroke: var(--caution);
  stroke-dasharray: 3 1.5;
}
.wall,
.new {
  fill: none;
  stroke: var(--ink);
  stroke-linejoin: miter;
}
.new,
.wall.chosen {
  stroke: var(--action);
}
.point {
  cursor: grab;
}
.point path {
  fill: var(--paper);
  stroke: var(--ink);
}
.point:focus-visible path {
  fill: var(--selection);
}
text {
  fill: var(--ink);
  /* Over walls and levels it stays readable. */
  paint-order: stroke;
  stroke: var(--paper);
  stroke-linejoin: round;
  font-weight: 600;
}
.small {
  font-weight: 400;
  fill: var(--proven);
}
.probe {
  fill: none;
  stroke: var(--blocker);
}
</style>
