<script setup lang="ts">
/**
 * A small map of both ends, without tiles: north up, to scale, with the drawings of the place and
 * bearings; and the sky they look at.
 */
import {
  declinationDegrees,
  drawnAround,
  magneticDegrees,
  MODEL_YEARS,
  tiltDegrees,
} from '@mast/core/bridges'
import { useBridge } from './useBridge'

const site = useSite()
const { reckoned, today } = useBridge()
const SIZE = 260
const ROOM = 46
const drawn = computed(() => {
  const r = reckoned.value
  if (!r) return null
  const { a, b, way } = r.budget.facts
  const turn = (way.fromADegrees * Math.PI) / 180
  const [dx, dy] = [Math.sin(turn) * way.metres, -Math.cos(turn) * way.metres]
  const scale = (SIZE - 2 * ROOM) / Math.max(Math.abs(dx), Math.abs(dy))
  const [cx, cy] = [SIZE / 2, SIZE / 2]
  const at = {
    a: [cx - (dx * scale) / 2, cy - (dy * scale) / 2],
    b: [cx + (dx * scale) / 2, cy + (dy * scale) / 2],
  } as const
  const around = drawnAround(site.opened.plan, a.at)
  const line = (points: readonly (readonly [number, number])[]): string =>
    points
      .map(
        ([east, north]) =>
          `${(at.a[0] + east * scale).toFixed(1)} ${(at.a[1] - north * scale).toFixed(1)}`,
      )
      .join('L')
  const places = around.map((d) => ({
    name: d.name,
    outline: `M${line(d.outline)}Z`,
    walls: d.walls.map((w) => `M${line(w)}`).join(''),
  }))
  const raw = way.metres / 3
  const power = 10 ** Math.floor(Math.log10(raw))
  const bar = power * ([5, 2, 1].find((f) => f * power <= raw) ?? 1)
  const end = (name: 'a' | 'b') => {
    const e = name === 'a' ? a : b
    const o = name === 'a' ? b : a
    const trueNorth = name === 'a' ? way.fromADegrees : way.fromBDegrees
    const declination = declinationDegrees(e.at, today)
    return {
      name: e.device.name,
      at: e.at,
      heightM: e.heightM,
      topM: e.topM,
      trueNorth,
      magnetic: declination === null ? null : magneticDegrees(trueNorth, declination),
      declination,
      tilt: tiltDegrees(e.topM, o.topM, way.metres),
      width: e.antenna.widthDegrees,
      half: e.antenna.widthDegrees / 2,
    }
  }
  return {
    at,
    places,
    bar,
    barPixels: bar * scale,
    metres: way.metres,
    ends: { a: end('a'), b: end('b') },
  }
})
/** The beam of an end as a wedge on the map. */
function wedge(name: 'a' | 'b'): string {
  const d = drawn.value!
  const [x, y] = d.at[name]
  const long = Math.hypot(d.at.b[0] - d.at.a[0], d.at.b[1] - d.at.a[1])
  const e = d.ends[name]
  return `M${x} ${y}${[-e.half, e.half]
    .map((off) => {
      const t = ((e.trueNorth + Math.max(-80, Math.min(80, off))) * Math.PI) / 180
      return `L${(x + Math.sin(t) * long).toFixed(1)} ${(y - Math.cos(t) * long).toFixed(1)}`
    })
    .join('')}Z`
}
const eastWords = (declination: number): string =>
  `${Math.abs(declination).toFixed(1)}° ${declination < 0 ? 'west' : 'east'}`
const metresText = (m: number): string => (m >= 1000 ? `${m / 1000} km` : `${m} m`)
</script>

<template>
  <section v-if="drawn" aria-label="Directions">
    <h2>Directions</h2>
    <div class="row top">
      <svg
        class="map"
        :viewBox="`0 0 ${SIZE} ${SIZE}`"
        role="img"
        :aria-label="`Both ends on a map, ${drawn.metres.toFixed(0)} m apart`"
      >
        <g v-for="p in drawn.places" :key="p.name" class="drawing">
          <title>{{ p.name }}</title>
          <path :d="p.outline" class="outline" />
          <path :d="p.walls" />
        </g>
        <path v-for="e in ['a', 'b'] as const" :key="e" :d="wedge(e)" class="wedge" />
        <line
          :x1="drawn.at.a[0]"
          :y1="drawn.at.a[1]"
          :x2="drawn.at.b[0]"
          :y2="drawn.at.b[1]"
          class="line"
        />
        <g v-for="e in ['a', 'b'] as const" :key="`p${e}`">
          <circle :cx="drawn.at[e][0]" :cy="drawn.at[e][1]" r="4" class="place" />
          <text
            :x="drawn.at[e][0]"
            :y="drawn.at[e][1] + (drawn.at[e][1] > SIZE / 2 ? 18 : -10)"
            text-anchor="middle"
          >
            {{ e.toUpperCase() }}
          </text>
        </g>
        <g class="north">
          <path :d="`M${SIZE - 22} 40V14l-5 9m5-9l5 9`" />
          <text :x="SIZE - 22" y="54" text-anchor="middle">N</text>
        </g>
        <g class="bar">
          <path :d="`M12 ${SIZE - 14}v6h${drawn.barPixels}v-6`" />
          <text x="12" :y="SIZE - 18">{{ metresText(drawn.bar) }}</text>
        </g>
      </svg>
      <table class="plain facts" aria-label="Directions of both ends">
        <tbody>
          <tr>
            <th></th>
            <th v-for="e in ['a', 'b'] as const" :key="e">
              {{ e.toUpperCase() }} {{ drawn.ends[e].name }}
            </th>
          </tr>
          <tr>
            <td>Coordinates</td>
            <td v-for="e in ['a', 'b'] as const" :key="e" class="mono">
              {{ drawn.ends[e].at.latitude.toFixed(5) }},
              {{ drawn.ends[e].at.longitude.toFixed(5) }}
            </td>
          </tr>
          <tr>
            <td>Antenna above the sea</td>
            <td v-for="e in ['a', 'b'] as const" :key="e" class="mono">
              {{ drawn.ends[e].topM.toFixed(1) }} m
            </td>
          </tr>
          <tr>
            <td>Looks to, true north</td>
            <td v-for="e in ['a', 'b'] as const" :key="e" class="mono">
              {{ drawn.ends[e].trueNorth.toFixed(2) }}°
            </td>
          </tr>
          <tr>
            <td>By compass today</td>
            <td v-for="e in ['a', 'b'] as const" :key="e" class="mono">
              {{
                drawn.ends[e].magnetic === null
                  ? `not known outside ${MODEL_YEARS.first} to ${MODEL_YEARS.last}`
                  : `${drawn.ends[e].magnetic!.toFixed(1)}° (${eastWords(drawn.ends[e].declination!)})`
              }}
            </td>
          </tr>
          <tr>
            <td>Tilt</td>
            <td v-for="e in ['a', 'b'] as const" :key="e" class="mono">
              {{ drawn.ends[e].tilt >= 0 ? 'up' : 'down' }}
              {{ Math.abs(drawn.ends[e].tilt).toFixed(2) }}°
            </td>
          </tr>
          <tr>
            <td>3 dB are lost</td>
            <td v-for="e in ['a', 'b'] as const" :key="e" class="mono">
              {{ drawn.ends[e].half.toFixed(1) }}° off
            </td>
          </tr>
          <tr>
            <td>Apart</td>
            <td colspan="2" class="mono">
              {{ drawn.metres.toFixed(1) }} m, on the ellipsoid of WGS 84
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.top {
  align-items: flex-start;
  flex-wrap: wrap;
}
.map {
  width: 260px;
  border: 1px solid var(--hair);
}
.facts {
  flex: 1;
  width: auto;
  min-width: 300px;
}
.drawing path {
  fill: none;
  stroke: var(--faint);
  stroke-width: 0.8;
}
.drawing .outline {
  stroke: var(--hair);
  fill: var(--ink);
  fill-opacity: 0.05;
}
.line {
  stroke: var(--action);
  stroke-width: 1.4;
}
.wedge {
  fill: var(--action);
  fill-opacity: 0.08;
}
.place {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2;
}
.north path,
.bar path {
  fill: none;
  stroke: var(--ink);
}
text {
  font-size: 12px;
  fill: var(--ink);
}
</style>
