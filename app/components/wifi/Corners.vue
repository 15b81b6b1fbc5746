<script setup lang="ts">
/** Corners of a wall or an area on the plan: dragged, or moved with the arrows. */
interface Point {
  readonly x: number
  readonly y: number
}
const { points, unit, at, snapped } = defineProps<{
  name: string
  points: readonly Point[]
  /** A line so wide whatever the scale, m. */
  unit: number
  /** Where on the plan a pointer is. */
  at: (e: PointerEvent) => Point
  /** To what a corner goes that is let go there. */
  snapped: (p: Point) => Point
}>()
const emit = defineEmits<{ moved: [points: Point[]]; removed: [n: number] }>()
const held = ref<{ n: number; x: number; y: number } | null>(null)
const put = (n: number, p: Point): void =>
  emit(
    'moved',
    points.map((q, i) => (i === n ? { x: p.x, y: p.y } : { x: q.x, y: q.y })),
  )
function take(e: PointerEvent, n: number): void {
  ;(e.currentTarget as Element).setPointerCapture(e.pointerId)
  held.value = { n, ...points[n]! }
}
function drag(e: PointerEvent): void {
  if (held.value) held.value = { n: held.value.n, ...at(e) }
}
function drop(): void {
  const h = held.value
  held.value = null
  if (!h) return
  const to = snapped(h)
  const was = points[h.n]!
  if (Math.hypot(h.x - was.x, h.y - was.y) > unit) put(h.n, to)
}
function key(e: KeyboardEvent, n: number): void {
  const p = points[n]!
  if (e.key === 'Delete' || e.key === 'Backspace') {
    e.preventDefault()
    emit('removed', n)
    return
  }
  const moved = arrowMove(e, p)
  if (!moved) return
  e.preventDefault()
  put(n, moved)
}
const shown = (p: Point, n: number): Point => (held.value?.n === n ? held.value : p)
</script>

<template>
  <g>
    <path
      v-if="held"
      :d="`M${points.map((p, n) => `${shown(p, n).x} ${shown(p, n).y}`).join('L')}`"
      class="moving"
      :stroke-width="unit * 2"
    />
    <rect
      v-for="(p, n) in points"
      :key="n"
      tabindex="0"
      role="button"
      class="corner"
      :aria-label="`Corner ${n + 1} of ${name} at ${p.x}, ${p.y} m: arrows move it`"
      :x="shown(p, n).x - unit * 5"
      :y="shown(p, n).y - unit * 5"
      :width="unit * 10"
      :height="unit * 10"
      :stroke-width="unit * 2"
      @pointerdown.stop="(e) => take(e, n)"
      @pointermove="drag"
      @pointerup="drop"
      @pointercancel="held = null"
      @keydown="(e) => key(e, n)"
      @click.stop
    />
  </g>
</template>

<style scoped>
.corner {
  fill: var(--paper);
  stroke: var(--action);
  cursor: move;
}
.corner:focus-visible {
  fill: var(--action);
  outline: none;
}
.moving {
  fill: none;
  stroke: var(--action);
}
</style>
