<script setup lang="ts">
import { MANAGED, own, placeName, PROVIDER_LAN } from '@mast/core/plan'
import { cellWords, matrixOf, mayAdminister, type MatrixCell } from '@mast/core/policy'

const pair = defineModel<{ from: string; to: string } | null>('pair', { required: true })
const site = useSite()
const matrix = computed(() => matrixOf(site.opened.plan))
const words = (c: MatrixCell): string => cellWords(site.opened.plan, c)
const mine = computed(() => (site.minePlan ? matrixOf(site.minePlan) : undefined))
/** What a change of ours in conflict would make of a pair, where that differs. */
function mineWords(from: string, to: string): string | null {
  const [own, saved] = [mine.value?.cell(from, to), matrix.value.cell(from, to)]
  return own && saved && words(own) !== words(saved) ? words(own) : null
}
/** Beyond so many places a cell says its verdict by a sign, and in words where it is pointed at. */
const CROWDED = 16
/**
 * Widths are given then, px: a browser that works them out measures every cell for every row that
 * comes.
 */
const HEAD_PX = 200
const CELL_PX = 27
const crowded = computed(() => matrix.value.places.length > CROWDED)
const { shown, rest, more, reach } = useShownRows(
  () => matrix.value.sources,
  () => Math.max(2, Math.floor(160 / Math.max(1, matrix.value.places.length))),
)
watch(
  () => site.pointed,
  (ids) => {
    for (const id of ids) reach(matrix.value.sources.indexOf(id))
  },
)
const sign = { all: 'all', some: 'part', none: '·' } as const
const hot = (id: string): boolean => site.pointed.includes(id) || site.selected === id
const isTunnel = (id: string): boolean => own(site.opened.plan.tunnels, id) !== undefined
const chosen = (from: string, to: string): boolean =>
  pair.value?.from === from && pair.value.to === to
/** Who would open the page of a modem. */
const administrator = computed(
  () => site.opened.model.segments.find(mayAdminister)?.id ?? site.opened.model.segments[0]?.id,
)
const label = (place: string): string =>
  place === 'internet'
    ? 'internet'
    : place === PROVIDER_LAN
      ? "provider's network"
      : place === MANAGED
        ? 'gateway and pages'
        : own(site.opened.plan.groups, place)
          ? `group ${placeName(site.opened.plan, place)}`
          : placeName(site.opened.plan, place)
</script>

<template>
  <div class="scroll-x">
    <p v-if="matrix.places.length < 2" class="lead">
      No segment yet; add them in Addresses and the grid appears.
    </p>
    <table
      v-else
      data-drawing
      class="grid"
      :class="{ crowded }"
      :style="crowded ? { width: `${HEAD_PX + matrix.places.length * CELL_PX}px` } : undefined"
      aria-label="Who reaches whom"
    >
      <thead>
        <tr>
          <th class="corner"><span>from</span> <span class="to">to</span></th>
          <th
            v-for="p in matrix.places"
            :key="p"
            scope="col"
            class="label"
            :class="{ hot: hot(p) }"
          >
            {{ label(p) }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="from in shown" :key="from">
          <th scope="row" class="label" :class="{ hot: hot(from) }">{{ label(from) }}</th>
          <td v-for="to in matrix.places" :key="to">
            <span v-if="from === to || !matrix.cell(from, to)" class="same">{{
              from === 'internet'
                ? ''
                : isTunnel(from)
                  ? 'each for itself, see Tunnels'
                  : 'inside, not filtered'
            }}</span>
            <button
              v-else
              type="button"
              class="cell"
              :class="[
                matrix.cell(from, to)!.verdict,
                {
                  stated: matrix.cell(from, to)!.stated,
                  chosen: chosen(from, to),
                  hot: hot(from) && hot(to),
                },
              ]"
              :aria-pressed="chosen(from, to)"
              :aria-label="
                `${label(from)} to ${label(to)}: ${words(matrix.cell(from, to)!)}` +
                (matrix.cell(from, to)!.stated ? '' : ', by default')
              "
              :title="
                crowded
                  ? `${label(from)} to ${label(to)}: ${words(matrix.cell(from, to)!)}`
                  : undefined
              "
              @click="pair = { from, to }"
            >
              <template v-if="crowded">{{
                mineWords(from, to) === null ? sign[matrix.cell(from, to)!.verdict] : 'mine'
              }}</template>
              <template v-else>
                <svg width="22" height="14" viewBox="0 0 22 14" aria-hidden="true">
                  <path v-if="matrix.cell(from, to)!.verdict === 'none'" d="M2 7 H9 M9 2 V12" />
                  <path
                    v-else
                    d="M2 7 H19 M14 3 L19 7 L14 11"
                    :stroke-dasharray="matrix.cell(from, to)!.verdict === 'some' ? '3 2' : ''"
                  />
                </svg>
                <span
                  >{{ mineWords(from, to) === null ? '' : 'theirs: '
                  }}{{ words(matrix.cell(from, to)!) }}</span
                >
                <span v-if="mineWords(from, to) !== null" class="mine"
                  >mine: {{ mineWords(from, to) }}</span
                >
              </template>
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <RowsMore :rest="rest" what="rows" @more="more" />
    <p v-if="matrix.places.length > 1" class="faint">
      Bold: stated by an intent. Light: by the site's default, which
      {{
        site.opened.plan.site.preferences.betweenSegments === 'deny'
          ? 'drops what no intent allows'
          : 'lets through what no intent denies'
      }}.
      <v-btn
        size="x-small"
        variant="text"
        @click="
          site.edit('changeSite', {
            preferences: {
              betweenSegments:
                site.opened.plan.site.preferences.betweenSegments === 'deny' ? 'allow' : 'deny',
            },
          })
        "
        >{{
          site.opened.plan.site.preferences.betweenSegments === 'deny'
            ? 'Leave open by default'
            : 'Drop by default'
        }}</v-btn
      >
      The network of the provider's own router is no internet and closed.
      <v-btn
        v-if="administrator && !matrix.places.includes(PROVIDER_LAN)"
        size="x-small"
        variant="text"
        @click="pair = { from: administrator, to: PROVIDER_LAN }"
        >State who may ask it</v-btn
      >
    </p>
  </div>
</template>

<style scoped>
.grid {
  border-collapse: collapse;
}
td {
  height: 1px;
}
th,
td {
  border: 1px solid var(--hair);
  padding: 0;
}
th {
  padding: 6px 7px;
  text-align: left;
  font-weight: 600;
  font-size: 13px;
  white-space: nowrap;
}
th.hot {
  background: var(--selection);
}
.corner {
  color: var(--faint);
  font-weight: 400;
}
.to {
  margin-left: 26px;
}
.cell {
  display: flex;
  flex-direction: column;
  justify-content: center;
  gap: 1px;
  width: 100%;
  min-width: 72px;
  min-height: 54px;
  height: 100%;
  padding: 4px 6px;
  background: none;
  border: 0;
  font: inherit;
  font-size: 12.5px;
  color: var(--faint);
  cursor: pointer;
  text-align: left;
  line-height: 1.2;
}
.cell svg {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.6;
}
.cell.all,
.cell.some {
  color: var(--action);
}
.cell.stated {
  font-weight: 700;
  color: var(--ink);
}
.cell.stated.all,
.cell.stated.some {
  color: var(--action);
}
.cell.none {
  color: var(--faint);
}
.cell.hot {
  box-shadow: inset 0 0 0 2px var(--blocker);
}
.cell.chosen {
  background: var(--selection);
}
.cell:hover {
  background: var(--selection);
}
.crowded {
  table-layout: fixed;
}
.crowded .corner {
  width: 200px;
}
.crowded th[scope='row'] {
  overflow: hidden;
  text-overflow: ellipsis;
}
.crowded .cell {
  min-width: 26px;
  width: 26px;
  height: 26px;
  padding: 0;
  align-items: center;
  font-size: 15px;
}
.crowded thead .label {
  writing-mode: vertical-rl;
  padding: 8px 2px;
  font-weight: 500;
}
.crowded .same {
  font-size: 0;
}
.mine {
  color: var(--blocker);
  font-weight: 600;
  border-top: 1px dashed var(--blocker);
}
.same {
  display: block;
  padding: 0 6px;
  color: var(--faint);
  font-size: 11.5px;
}
</style>
