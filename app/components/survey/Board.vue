<script setup lang="ts">
/**
 * The drawing of the survey: each line with its gate, what hangs in which place, known and missing.
 * What is chosen is filled in beside it.
 */
import { mayUnplug, gateFacts, whatHangsWhere } from '@mast/core/survey'
import { newId, uplinksInOrder } from '@mast/core/plan'
import { onWish } from '~/composables/useWish'

const MOST_NAMED = 6
const site = useSite()
const lines = computed(() =>
  uplinksInOrder(site.opened.plan).map((uplink) => {
    const facts = gateFacts(uplink)
    return {
      uplink,
      isOpen: mayUnplug(uplink),
      known: `${facts.filter((f) => f.known).length} of ${facts.length} facts known`,
      missing: facts.filter((f) => !f.known).map((f) => f.label),
    }
  }),
)
/** A line that nobody chose is open for writing while facts of it are missing. */
const chosen = ref<string | null>(lines.value.find((l) => !l.isOpen)?.uplink.id ?? null)
const shown = computed(() => lines.value.find((l) => l.uplink.id === chosen.value)?.uplink)
watch(
  () => site.selected,
  (id) => {
    if (lines.value.some((l) => l.uplink.id === id)) chosen.value = id
  },
)
const places = computed(() => whatHangsWhere(site.opened.model))
const sum = computed(() => ({
  places: places.value.filter((p) => p.location).length,
  devices: places.value.reduce((n, p) => n + p.devices.length, 0),
  lacking: places.value.reduce(
    (n, p) => n + p.devices.filter((s) => s.missing.length > 0).length,
    0,
  ),
}))
/** Behind all that are there: lines of one rank would share what leaves. */
const nextRank = (): number =>
  Math.min(15, Math.max(-1, ...lines.value.map((l) => l.uplink.rank)) + 1)
function add(): void {
  const name = lines.value.length === 0 ? 'Provider line' : 'Second line'
  const id = newId(site.opened.plan, lines.value.length === 0 ? 'line' : name)
  if (!site.edit('addUplink', { id, name, rank: nextRank() })) chosen.value = id
}
onWish('line', add)
</script>

<template>
  <div data-drawing class="board" :class="{ writing: shown }">
    <section aria-label="Lines" class="lines">
      <div v-if="lines.length === 0" class="line none">
        <h2 class="mt-0">No provider line yet</h2>
        <p>
          Write down what the provider hands over before anything is unplugged: its gate then says
          what is still missing.
        </p>
        <v-btn color="primary" @click="add">Record a line</v-btn>
      </div>
      <button
        v-for="{ uplink: l, isOpen, known, missing } in lines"
        :key="l.id"
        type="button"
        class="line"
        :class="{
          open: isOpen,
          on: l.id === shown?.id,
          hot: site.selected === l.id || site.pointed.includes(l.id),
        }"
        :aria-pressed="l.id === shown?.id"
        @click="chosen = chosen === l.id ? null : l.id"
      >
        <svg viewBox="0 0 150 66" aria-hidden="true">
          <path d="M4 52 H58 M92 52 H146" class="wire" />
          <g v-if="!isOpen">
            <rect x="60" y="8" width="30" height="50" class="wire" />
            <path d="M60 18 H90 M60 28 H90 M60 38 H90 M60 48 H90" class="bars" />
          </g>
          <path v-else d="M60 52 H90 M60 58 V8 M90 58 V8 M60 8 L44 15 M90 8 L106 15" class="wire" />
        </svg>
        <span class="of">
          <b class="label">{{ l.rank + 1 }} {{ l.name }}</b>
          <span class="verdict">{{ isOpen ? 'gate open' : 'gate shut' }}</span>
          <span class="faint">{{ known }}</span>
          <span class="faint">{{
            l.portId ? `into ${site.opened.model.portName(l.portId)}` : 'into no socket yet'
          }}</span>
          <span v-if="missing.length" class="lacks">missing: {{ missing.join(', ') }}</span>
        </span>
      </button>
      <v-btn v-if="lines.length" size="small" variant="text" class="no-print" @click="add"
        >Record another line</v-btn
      >
      <p v-if="places.length" class="sum">
        <b>{{ sum.devices }}</b> {{ sum.devices === 1 ? 'device' : 'devices' }} in
        <b>{{ sum.places }}</b> {{ sum.places === 1 ? 'place' : 'places' }}.
        <template v-if="sum.lacking"
          ><b>{{ sum.lacking }}</b> of them {{ sum.lacking === 1 ? 'lacks' : 'lack' }} a serial, a
          hardware address or a place (<svg width="11" height="11" viewBox="0 0 11 11" class="key">
            <rect x="1.5" y="1.5" width="8" height="8" /></svg
          >).</template
        ><template v-else>Serials, hardware addresses and places are all known.</template>
      </p>
    </section>
    <SurveyUplinkCard
      v-if="shown"
      :key="shown.id"
      :uplink="shown"
      :last="lines.length === 1"
      class="form"
      @close="chosen = null"
    />
    <section v-if="places.length" aria-label="What hangs where" class="places">
      <article
        v-for="p in places"
        :key="p.location?.id ?? ''"
        class="place"
        :class="{ nowhere: !p.location }"
        :aria-label="p.location?.name ?? 'Nowhere yet'"
      >
        <h3>
          {{ p.location?.name ?? 'Nowhere yet' }}
          <span class="faint">{{ p.devices.length }}</span>
        </h3>
        <ul>
          <li v-for="s in p.devices.slice(0, MOST_NAMED)" :key="s.device.id">
            <button
              type="button"
              class="device"
              :class="{ lacking: s.missing.length, hot: site.pointed.includes(s.device.id) }"
              @click="site.selected = s.device.id"
            >
              <svg width="11" height="11" viewBox="0 0 11 11" aria-hidden="true">
                <rect x="1.5" y="1.5" width="8" height="8" />
              </svg>
              {{ s.device.name
              }}<span v-if="s.missing.length" class="lacks">no {{ s.missing.join(', no ') }}</span>
            </button>
          </li>
          <li v-if="p.devices.length > MOST_NAMED" class="faint">
            and {{ p.devices.length - MOST_NAMED }} more, all
            {{
              p.devices.slice(MOST_NAMED).every((s) => !s.missing.length) ? 'known' : 'listed below'
            }}
          </li>
        </ul>
      </article>
    </section>
  </div>
</template>

<style scoped>
.board {
  display: grid;
  grid-template-columns: 250px 1fr;
  gap: 14px 22px;
  margin-bottom: 14px;
}
.lines {
  display: flex;
  flex-direction: column;
  gap: 10px;
  align-items: stretch;
}
.line {
  display: grid;
  grid-template-columns: 84px 1fr;
  gap: 10px;
  align-items: center;
  padding: 8px 10px;
  border: 1px solid var(--blocker);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.line.open {
  border-color: var(--proven);
}
.line.on,
.line.hot {
  background: var(--selection);
}
.line.none {
  display: block;
  cursor: default;
  border-color: var(--hair);
}
.line svg {
  width: 84px;
  color: var(--blocker);
}
.line.open svg,
.line.open .verdict {
  color: var(--proven);
}
.wire,
.bars {
  fill: none;
  stroke: currentColor;
  stroke-width: 2.4;
}
.bars {
  stroke-width: 1.2;
}
.of {
  display: flex;
  flex-direction: column;
  line-height: 1.3;
}
.verdict {
  color: var(--blocker);
  font-weight: 600;
}
.lacks {
  color: var(--caution);
  font-size: 12.5px;
}
.places {
  columns: 188px;
  column-gap: 10px;
}
.writing .places {
  grid-column: 1 / -1;
}
.place {
  border: 1px solid var(--hair);
  padding: 6px 10px 8px;
  margin-bottom: 10px;
  break-inside: avoid;
}
.place.nowhere {
  border-style: dashed;
}
.place h3 {
  margin: 0 0 2px;
  font-size: 14px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.device {
  display: flex;
  gap: 6px;
  align-items: baseline;
  width: 100%;
  border: 0;
  background: none;
  padding: 1px 0;
  color: inherit;
  font: inherit;
  font-size: 13px;
  text-align: left;
  cursor: pointer;
}
.device:hover,
.device.hot {
  background: var(--selection);
}
.device rect {
  fill: var(--ink);
  stroke: var(--ink);
  stroke-width: 1.4;
}
.sum {
  margin: 4px 0 0;
}
.key rect,
.device.lacking rect {
  fill: none;
  stroke: var(--caution);
}
@media (max-width: 820px) {
  .board {
    grid-template-columns: 1fr;
  }
}
</style>
