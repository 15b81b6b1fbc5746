<script setup lang="ts">
/**
 * A failover that is tried: what to pull, what to expect, a stopwatch for the hand, a log of ping,
 * or the stand-ins; what was measured is kept and held against what was foretold.
 */
import {
  drillExpected,
  drillKinds,
  drillParts,
  judgeDrill,
  readPingLog,
  turnOf,
  type Drill,
  type DrillKind,
} from '@mast/core/uplinks'
import { MAX_CSV_OCTETS } from '@mast/core/formats'
import { exactDuration, explainSeconds } from '@mast/core/words'

const site = useSite()
const field = useField()
const model = useLater(() => site.opened.model)
const lineId = ref<string>()
const turn = computed(() => turnOf(model.value, lineId.value) ?? turnOf(model.value))
const names: Record<DrillKind, string> = {
  cable: 'the cable into the gateway',
  modem: 'the power of the modem',
  path: 'what comes into the modem from outside',
}
const kinds = drillKinds.map((value) => ({ title: names[value], value }))
const kind = ref<DrillKind>('path')
const expected = computed(() =>
  turn.value ? drillExpected(model.value, turn.value, kind.value) : undefined,
)
const parts = computed(() => (turn.value ? drillParts(model.value, turn.value) : []))
const goesOn = computed(() => parts.value.filter((p) => p.goesOn).map((p) => p.name))
const stops = computed(() => parts.value.filter((p) => !p.goesOn).map((p) => p.name))
const took = (t: { best: number; worst: number } | null): string =>
  t === null
    ? 'never by itself'
    : t.best === t.worst
      ? exactDuration(t.worst)
      : `${exactDuration(round(t.best))} to ${exactDuration(round(t.worst))}`
const round = (n: number): number => Math.round(n * 10) / 10

/** Moments as they were tapped, ms. */
const pulledAt = ref<number | null>(null)
const overAt = ref<number | null>(null)
const givenAt = ref<number | null>(null)
const backAt = ref<number | null>(null)
const clock = useNow({ interval: 200 })
const since = (from: number): number => Math.max(0, (clock.value.getTime() - from) / 1000)
const over = ref('')
const back = ref('')
const isAfterRestart = ref(false)
const measuredBy = ref<'hand' | 'log'>('hand')
const refused = ref<string | undefined>()
const busy = ref(false)
/** What is to be seen next, and how long it may still take. */
const running = computed(() => {
  if (pulledAt.value !== null && overAt.value === null && givenAt.value === null) {
    const left = (expected.value?.over?.worst ?? 0) - since(pulledAt.value)
    return `Away for ${Math.round(since(pulledAt.value))} s; ${
      expected.value?.over === null
        ? 'it is not expected to go over'
        : left >= 0
          ? `the other line is expected within ${Math.ceil(left)} s`
          : `late by ${Math.ceil(-left)} s`
    }.`
  }
  if (givenAt.value !== null && backAt.value === null) {
    const left = (expected.value?.back?.worst ?? 0) - since(givenAt.value)
    return `Given back for ${Math.round(since(givenAt.value))} s; ${
      expected.value?.back === null
        ? 'somebody has to say that it is used again'
        : left >= 0
          ? `used again within ${Math.ceil(left)} s`
          : `late by ${Math.ceil(-left)} s`
    }.`
  }
  return null
})
function tap(what: 'pulled' | 'over' | 'given' | 'back'): void {
  const now = Date.now()
  measuredBy.value = 'hand'
  if (what === 'pulled') {
    pulledAt.value = now
    overAt.value = givenAt.value = backAt.value = null
    over.value = back.value = ''
  } else if (what === 'over') {
    overAt.value = now
    over.value = String(round((now - pulledAt.value!) / 1000))
  } else if (what === 'given') givenAt.value = now
  else {
    backAt.value = now
    back.value = String(round((now - givenAt.value!) / 1000))
  }
}
const remarks = ref<string[]>([])
async function readLog(given: File | File[] | null): Promise<void> {
  const file = Array.isArray(given) ? given[0] : given
  remarks.value = []
  if (!file) return
  if (file.size > MAX_CSV_OCTETS) {
    remarks.value = [`${file.name} is larger than ${MAX_CSV_OCTETS / 1e6} MB; cut it`]
    return
  }
  const log = readPingLog(await file.text())
  const [longest] = log.gaps
  remarks.value = [
    ...log.remarks,
    longest
      ? `The longest gap in ${file.name} is ${round(longest.seconds)} s` +
        (longest.line === null ? ', without an answer after it.' : `, up to line ${longest.line}.`)
      : `${file.name} has ${log.answers} answers and no gap.`,
  ]
  if (longest && longest.line !== null) {
    over.value = String(round(longest.seconds))
    measuredBy.value = 'log'
  }
}
/** What was typed, as seconds; null where nothing was. */
const read = (text: string) =>
  text.trim() === '' ? ({ ok: true, value: null } as const) : explainSeconds(text)
async function keep(): Promise<void> {
  const [wasOver, wasBack] = [read(over.value), read(back.value)]
  if (!wasOver.ok || !wasBack.ok) {
    refused.value = !wasOver.ok ? wasOver.reason : !wasBack.ok ? wasBack.reason : undefined
    return
  }
  const [overSeconds, backSeconds] = [wasOver.value, wasBack.value]
  // Given back without having gone over is a measurement; nothing at all is none.
  if (overSeconds === null && expected.value?.over && givenAt.value === null) {
    refused.value = 'tap or type how long it took until there was a way out again'
    return
  }
  const drill: Drill = {
    lineId: turn.value!.line.id,
    kind: kind.value,
    overSeconds,
    backSeconds,
    measuredBy: measuredBy.value,
    isAfterRestart: isAfterRestart.value,
    segments: [],
  }
  refused.value = undefined
  await field.keepDrill(drill, judgeDrill(model.value, drill).text)
  pulledAt.value = overAt.value = givenAt.value = backAt.value = null
  over.value = back.value = ''
  remarks.value = []
}
/** The stand-ins need the outage to be long enough for it to be noticed. */
const outage = computed(() => Math.min(3600, Math.ceil((expected.value?.over?.worst ?? 60) + 30)))
async function byStandins(): Promise<void> {
  busy.value = true
  refused.value = await field.runDrill({
    lineId: turn.value!.line.id,
    kind: kind.value,
    outageSeconds: outage.value,
    isAfterRestart: isAfterRestart.value,
  })
  busy.value = false
}
const tried = computed(() =>
  field.evidence.flatMap((e) =>
    e.body.drill
      ? [{ ...e, drill: e.body.drill, judged: judgeDrill(model.value, e.body.drill) }]
      : [],
  ),
)
const byWords = { 'stand-ins': 'on the stand-ins', hand: 'by hand', log: 'out of a log' } as const
const lineName = (id: string): string => model.value.plan.uplinks[id]?.name ?? id
const partName = ({ segmentId, serviceId }: Drill['segments'][number]): string => {
  const { segments, services } = model.value.plan
  const segment = segments[segmentId]?.name ?? segmentId
  return serviceId === null ? segment : `${segment} for ${services[serviceId]?.name ?? serviceId}`
}
const segmentWords = (d: Drill): string =>
  d.segments
    .map((s) =>
      s.seconds === null
        ? `${partName(s)} stopped`
        : s.seconds === 0
          ? `${partName(s)} without a gap`
          : `${partName(s)} ${round(s.seconds)} s`,
    )
    .join(', ')
</script>

<template>
  <section v-if="turn" aria-label="Try it" class="try">
    <h2>Try it</h2>
    <p class="faint">
      Pull it on a quiet morning, with somebody at the gateway. Nothing with mains in it is opened.
    </p>
    <div class="row">
      <UplinksWhichLine v-model="lineId" />
      <v-select v-model="kind" label="Take away" :items="kinds" style="max-width: 320px" />
      <v-checkbox v-model="isAfterRestart" label="after a restart of everything" />
    </div>
    <ul class="facts">
      <li v-if="turn.away.length">
        Before it {{ turn.away.map((u) => u.name).join(', ') }} away, and gone over.
      </li>
      <li v-if="!expected?.over">
        It does not go over: nothing that is asked tells that {{ turn.line.name }} is dead.
      </li>
      <li v-else>
        Over to {{ turn.next.name }} after <b class="mono">{{ took(expected.over) }}</b>, back to
        {{ turn.line.name }} <b class="mono">{{ took(expected.back) }}</b> after it is given back.
      </li>
      <li v-if="goesOn.length">Go on: {{ goesOn.join(', ') }}.</li>
      <li v-if="stops.length">Stop: {{ stops.join(', ') }}.</li>
    </ul>
    <div class="taps no-print">
      <v-btn size="large" @click="tap('pulled')">Taken away now</v-btn>
      <v-btn size="large" :disabled="!pulledAt || overAt !== null" @click="tap('over')"
        >Out again now</v-btn
      >
      <v-btn size="large" :disabled="!pulledAt || givenAt !== null" @click="tap('given')"
        >Given back now</v-btn
      >
      <v-btn size="large" :disabled="!givenAt || backAt !== null" @click="tap('back')"
        >{{ turn.line.name }} is used again</v-btn
      >
    </div>
    <p v-if="running" role="status" class="running">{{ running }}</p>
    <form class="row no-print" aria-label="What was measured" @submit.prevent="keep">
      <v-text-field v-model="over" label="Out again after" placeholder="62 s" class="time mono" />
      <v-text-field v-model="back" label="Used again after" placeholder="24 s" class="time mono" />
      <v-file-input
        prepend-icon=""
        label="Log of ping"
        class="log"
        @update:model-value="(f: File | File[] | null) => readLog(f)"
      />
      <v-btn type="submit" color="primary" variant="flat">Keep it</v-btn>
      <v-btn
        :loading="busy"
        :disabled="!field.standins"
        :title="field.standins ? '' : 'the stand-ins of this site were not begun yet'"
        @click="byStandins"
        >Let the stand-ins try it</v-btn
      >
    </form>
    <p v-for="r in remarks" :key="r" class="faint">{{ r }}</p>
    <Refusal :says="refused" />
    <ul v-if="tried.length" class="tried" aria-label="What was tried">
      <li v-for="t in tried" :key="t.id">
        <span class="mark" :class="t.judged.isAsForetold ? 'proven' : 'cautions'"
          ><ShellStateShape :kind="t.judged.isAsForetold ? 'proven' : 'cautions'" />{{
            t.judged.text
          }}</span
        >
        <span class="faint"
          >{{ lineName(t.drill.lineId) }}: {{ names[t.drill.kind] }},
          {{ byWords[t.drill.measuredBy] }}{{ t.drill.isAfterRestart ? ', after a restart' : '' }},
          {{ new Date(t.at).toLocaleString('en-GB') }}{{ t.unsent ? ', not sent yet' : '' }}</span
        >
        <span v-if="t.drill.segments.length" class="faint">{{ segmentWords(t.drill) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.taps {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 8px 0;
}
.time {
  max-width: 150px;
}
.log {
  max-width: 220px;
}
.running {
  font-size: 17px;
  font-weight: 600;
}
.tried {
  list-style: none;
  padding: 0;
  margin: 10px 0 0;
}
.tried li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  border-top: 1px solid var(--hair);
  padding: 5px 0;
}
.mark {
  white-space: normal;
}
@media (max-width: 600px) {
  .taps > * {
    flex: 1 1 100%;
    min-height: 52px;
  }
  .time {
    max-width: none;
    flex: 1 1 40%;
  }
  .log {
    max-width: none;
    flex: 1 1 100%;
  }
}
</style>
