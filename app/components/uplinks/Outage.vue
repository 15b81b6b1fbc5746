<script setup lang="ts">
/** One outage played on the lines of the site: tests, counting, going over, coming back. */
import {
  linesInUse,
  startWords,
  turnOf,
  turnTimeline,
  turnTimes,
  type Took,
} from '@mast/core/uplinks'
import { exactDuration, explainDuration } from '@mast/core/words'

const site = useSite()
const model = useLater(() => site.opened.model)
const lines = computed(() => linesInUse(model.value))
const lineId = ref<string>()
const turn = computed(() => turnOf(model.value, lineId.value) ?? turnOf(model.value))
const seconds = ref(180)
const phase = ref(0)
const moments = [
  { title: 'just after a test', value: 0 },
  { title: 'between two tests', value: 0.5 },
  { title: 'just before a test', value: 0.999 },
]
const played = computed(() =>
  turn.value ? turnTimeline(model.value, turn.value, seconds.value, phase.value) : null,
)
function setLength(text: string): string | undefined {
  const read = explainDuration(text)
  if (!read.ok) return read.reason
  if (read.value < 1 || read.value > 86_400) return 'between a second and a day is drawn'
  seconds.value = read.value
  return undefined
}
const WIDTH = 860
const LEFT = 150
const RIGHT = 20
const from = computed(
  () => -(played.value?.rounds[0] ? Math.max(5, -played.value.rounds[0].at) : 5),
)
const to = computed(() => {
  const p = played.value
  if (!p) return 1
  const last = Math.max(p.startedAt, p.overAt ?? 0, p.backAt ?? 0, p.rounds.at(-1)?.at ?? 0)
  return last * 1.06 + 4
})
const x = (at: number): number =>
  LEFT + ((at - from.value) / (to.value - from.value)) * (WIDTH - LEFT - RIGHT)
/** So many are told apart. */
const MOST_TICKS = 220
const ticks = computed(() =>
  (played.value?.rounds ?? []).length > MOST_TICKS ? [] : (played.value?.rounds ?? []),
)
const end = computed(() => WIDTH - RIGHT)
const marks = computed(() => {
  const p = played.value
  if (!p) return []
  return [
    { at: 0, words: 'dies' },
    ...(p.noticedAt === null ? [] : [{ at: p.noticedAt, words: 'noticed' }]),
    ...(p.overAt === null ? [] : [{ at: p.overAt, words: 'over' }]),
    { at: p.mendedAt, words: 'mended' },
    ...(p.startedAt > p.mendedAt ? [{ at: p.startedAt, words: 'leads out' }] : []),
    ...(p.backAt === null ? [] : [{ at: p.backAt, words: 'back' }]),
  ].sort((a, b) => a.at - b.at)
})
/** Every second one lower, where they would stand on each other. */
const lows = computed(() => {
  let before = -Infinity
  let isLow = false
  return marks.value.map((m) => {
    isLow = x(m.at) - before < 84 ? !isLow : false
    before = x(m.at)
    return isLow
  })
})
const cut = (text: string): string => (text.length > 20 ? `${text.slice(0, 19)}…` : text)
const times = computed(() => {
  if (!turn.value) return []
  const { line: first, next: second, startSeconds } = turn.value
  const o = turnTimes(model.value, turn.value)
  const w = first.watch
  const { switchSeconds, back } = model.value.plan.site.failover
  const cold = startSeconds > 0 ? startWords(second) : ''
  const quiet = back?.kind === 'after-quiet' ? `, then ${exactDuration(back.seconds)} of quiet` : ''
  if (!o.over) {
    const never = { best: Infinity, mean: Infinity, worst: Infinity }
    return [
      {
        what: `Until ${second.name} is used`,
        took: never,
        how: `nothing that is asked tells that ${first.name} is dead`,
      },
    ]
  }
  return [
    {
      what: `Until ${second.name} is used`,
      took: o.over,
      how: w
        ? `${w.failures} rounds of ${w.intervalSeconds} s, the first begins within one` +
          ` + ${w.answerSeconds} s for the answer${cold} + ${switchSeconds} s`
        : `only the signal of the socket${cold} + ${switchSeconds} s`,
    },
    {
      what: `Until ${first.name} is used again`,
      took: o.back,
      how:
        back?.kind === 'by-hand'
          ? `by hand${back.owner ? `: ${back.owner}` : ', by nobody yet'}`
          : w
            ? `${first.startSeconds ?? 0} s start-up + ${w.successes} good rounds of ` +
              `${w.intervalSeconds} s${quiet} + ${switchSeconds} s`
            : 'as soon as the signal is there',
    },
  ]
})
const timeText = (t: Took | null, key: keyof Took): string =>
  t === null ? '' : t[key] === Infinity ? 'never' : exactDuration(t[key])
</script>

<template>
  <section v-if="played && turn" aria-label="An outage">
    <div class="row spread">
      <h2>When {{ turn.line.name }} dies</h2>
      <div class="row no-print">
        <UplinksWhichLine v-model="lineId" />
        <FieldsEditField
          label="For"
          :value="exactDuration(seconds)"
          :save="setLength"
          class="length"
          mono
        />
        <v-select v-model="phase" label="It dies" :items="moments" class="moment" />
      </div>
    </div>
    <div class="scroll-x">
      <svg
        data-drawing
        :viewBox="`0 0 ${WIDTH} 188`"
        class="play"
        role="img"
        :aria-label="`Down for ${exactDuration(played.downSeconds)}; the times stand in the table beneath`"
      >
        <text x="0" y="58" class="name">{{ cut(turn.line.name) }}</text>
        <path :d="`M${LEFT} 54 H${x(0)}`" class="alive" />
        <path :d="`M${x(0)} 54 H${x(played.mendedAt)}`" class="dead" />
        <path :d="`M${x(played.mendedAt)} 54 H${x(played.startedAt)}`" class="starting" />
        <path :d="`M${x(played.startedAt)} 54 H${end}`" class="alive" />
        <g v-for="t in ticks" :key="t.at">
          <path v-if="t.isGood" :d="`M${x(t.at)} 40 v9`" class="good"><title>answered</title></path>
          <path v-else :d="`M${x(t.at) - 3} 41 l6 6 m-6 0 l6 -6`" class="bad">
            <title>no answer</title>
          </path>
        </g>
        <text v-if="ticks.length === 0 && played.rounds.length" :x="x(0) + 6" y="46" class="small">
          {{ played.failedRounds }} rounds without an answer
        </text>
        <text x="0" y="98" class="name">{{ cut(turn.next.name) }}</text>
        <path :d="`M${LEFT} 94 H${end}`" :class="turn.startSeconds > 0 ? 'off' : 'ready'" />
        <template v-if="played.overAt !== null">
          <path
            v-if="played.noticedAt !== null && turn.startSeconds > 0"
            :d="`M${x(played.noticedAt)} 94 H${x(played.overAt)}`"
            class="starting"
          />
          <path
            :d="`M${x(played.overAt)} 94 H${played.backAt === null ? end : x(played.backAt)}`"
            class="used"
          />
        </template>
        <text x="0" y="138" class="name">
          {{ turn.line.rank === turn.next.rank ? 'Who goes by it' : 'The site' }}
        </text>
        <path :d="`M${LEFT} 134 H${x(0)}`" class="used" />
        <path :d="`M${x(0)} 134 H${x(played.downSeconds)}`" class="down" />
        <path :d="`M${x(played.downSeconds)} 134 H${end}`" class="used" />
        <text :x="x(0) + 4" y="126" class="down-text">
          down {{ exactDuration(played.downSeconds) }}
        </text>
        <g v-for="(m, i) in marks" :key="m.words">
          <path :d="`M${x(m.at)} 24 V144`" class="mark-line" />
          <text
            :x="x(m.at)"
            :y="lows[i] ? 176 : 160"
            :text-anchor="x(m.at) > WIDTH - 70 ? 'end' : 'middle'"
            class="small"
          >
            {{ m.words }} {{ exactDuration(m.at) }}
          </text>
        </g>
      </svg>
    </div>
    <table v-if="times.length" class="plain" aria-label="Times">
      <thead>
        <tr>
          <th>Times</th>
          <th>Best</th>
          <th>Mean</th>
          <th>Worst</th>
          <th>How</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in times" :key="t.what">
          <td>{{ t.what }}</td>
          <td class="mono">{{ timeText(t.took, 'best') }}</td>
          <td class="mono">{{ timeText(t.took, 'mean') }}</td>
          <td class="mono">{{ timeText(t.took, 'worst') }}</td>
          <td class="faint">{{ t.how }}</td>
        </tr>
      </tbody>
    </table>
  </section>
  <p v-else-if="lines.length === 1" data-drawing class="faint">
    With a second line in a socket, an outage is played here.
  </p>
</template>

<style scoped>
td.mono {
  white-space: nowrap;
}
.length {
  max-width: 120px;
  min-width: 100px;
}
.moment {
  min-width: 200px;
}
.play {
  width: 100%;
  min-width: 720px;
  max-width: 980px;
  font-family: var(--text);
}
path {
  fill: none;
  stroke: var(--ink);
}
.alive,
.used {
  stroke-width: 5;
}
.ready {
  stroke-width: 2;
}
.off {
  stroke: var(--hair);
  stroke-width: 2;
  stroke-dasharray: 2 5;
}
.dead {
  stroke: var(--blocker);
  stroke-width: 2;
  stroke-dasharray: 6 4;
}
.starting {
  stroke: var(--action);
  stroke-width: 5;
  stroke-dasharray: 3 3;
}
.down {
  stroke: var(--blocker);
  stroke-width: 9;
}
.down-text {
  fill: var(--blocker);
  font-weight: 700;
  font-size: 13px;
}
.good {
  stroke-width: 1.5;
}
.bad {
  stroke: var(--blocker);
  stroke-width: 1.5;
}
.mark-line {
  stroke: var(--hair);
}
.name {
  font-size: 13px;
  font-weight: 600;
  fill: var(--ink);
}
.small {
  font-size: 11.5px;
  fill: var(--faint);
}
</style>
