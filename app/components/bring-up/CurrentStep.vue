<script setup lang="ts">
import { type Step } from '@mast/core/bringup'
import { sheets, type SheetId } from '@mast/core/sheets'
import { formatDuration } from '@mast/core/words'
import { stopPath } from '~/composables/stops'

const props = defineProps<{
  step: Step
  steps: readonly Step[]
  now: Date
  /** Whose it is; null where there is nobody else. */
  who?: string | null
}>()
const emit = defineEmits<{ begun: [] }>()
const site = useSite()
const field = useField()
const acknowledged = ref(false)
const note = ref('')
const busy = ref(false)
const refused = ref<string | undefined>()
const shown = ref<Record<string, string>>({})
const serial = ref('')
watch([acknowledged, note, serial], () => emit('begun'))

const ticked = computed(() => field.steps.find((s) => s.stepId === props.step.id))
const stopName = (id: SheetId): string => sheets.find((s) => s.id === id)!.name
const record = computed(() => field.done.get(props.step.id))
const title = (id: string): string => props.steps.find((s) => s.id === id)?.title ?? id
const open = computed(() => props.step.needs.filter((n) => !field.done.has(n)))
/**
 * What this step waits for, the last to be ready. It stays when its time is up, so that nothing
 * moves under a finger.
 */
const wait = computed(
  () =>
    props.step.needs
      .flatMap((n) => {
        const s = field.steps.find((x) => x.stepId === n)
        if (!s) return []
        const ready = new Date(s.readyAt).getTime()
        const wholeS = (ready - new Date(s.doneAt).getTime()) / 1000
        return wholeS > 0
          ? [
              {
                title: title(n),
                leftS: Math.max(0, Math.ceil((ready - props.now.getTime()) / 1000)),
                wholeS,
                warn: props.steps.find((x) => x.id === n)?.whileWaiting,
              },
            ]
          : []
      })
      .sort((a, b) => b.leftS - a.leftS)[0],
)
const followed = computed(() =>
  props.step.follows?.kind === 'device' ? props.step.follows : undefined,
)
const device = computed(() => field.devices.find((d) => d.deviceId === followed.value?.deviceId))
/** Whether a proof ran since all was done that it is of. */
const provenSince = computed(
  () =>
    field.proof !== null &&
    open.value.length === 0 &&
    props.step.needs.every((n) => field.done.get(n)!.doneAt <= field.proof!.at),
)
const reached = computed(() => {
  if (props.step.follows?.kind === 'proof') return provenSince.value
  return followed.value?.state === 'claimed'
    ? (device.value?.claimed ?? false)
    : device.value?.state === 'in-service'
})
const canDo = computed(
  () =>
    open.value.length === 0 &&
    !props.step.blockedBy &&
    (!props.step.safety || acknowledged.value) &&
    (!props.step.follows || reached.value),
)

async function run(by: 'person' | 'standins'): Promise<void> {
  busy.value = true
  refused.value =
    by === 'person'
      ? await field.tick(props.step, acknowledged.value, note.value)
      : await field.letStandinsDo(props.step.id, acknowledged.value, note.value)
  busy.value = false
}
async function takeBack(): Promise<void> {
  busy.value = true
  refused.value = await field.untick(props.step.id)
  busy.value = false
}
async function claim(): Promise<void> {
  busy.value = true
  refused.value = await field.claim(followed.value!.deviceId, serial.value)
  busy.value = false
}
watch(
  reached,
  (now) => {
    if (now && !record.value && open.value.length === 0 && props.step.follows) void run('person')
  },
  { immediate: true },
)
async function show(ref_: string): Promise<void> {
  shown.value = { ...shown.value, [ref_]: await field.secret(ref_) }
}
</script>

<template>
  <section class="current keep" :aria-label="`Step: ${step.title}`">
    <p class="faint">
      {{
        record
          ? `Done ${secondText(record.doneAt)} by ${record.by ?? 'nobody'}`
          : who
            ? `Now: ${who}`
            : 'Now'
      }}
    </p>
    <h2>{{ step.title }}</h2>
    <p v-if="ticked && !record" class="mark cautions wrap" role="status">
      <ShellStateShape kind="cautions" />Done {{ secondText(ticked.doneAt) }} by
      {{ ticked.by ?? 'nobody' }}, and the plan says something else since: do it as it says now
    </p>
    <p v-if="step.blockedBy" class="mark blockers wrap" role="alert">
      <ShellStateShape kind="blockers" />{{ step.blockedBy.says }}
      <NuxtLink :to="stopPath(site.opened.id, step.blockedBy.sheet)">{{
        stopName(step.blockedBy.sheet)
      }}</NuxtLink>
    </p>
    <p v-if="open.length" class="wrap">First: {{ open.map(title).join('; ') }}</p>
    <div
      v-if="wait && !record"
      class="countdown"
      role="timer"
      :aria-label="wait.leftS ? `${wait.leftS} seconds left` : 'The wait is over'"
    >
      <svg viewBox="0 0 200 10" preserveAspectRatio="none" aria-hidden="true">
        <rect x="0" y="0" width="200" height="10" class="frame" />
        <rect
          x="0"
          y="0"
          :width="200 * Math.max(0, 1 - wait.leftS / Math.max(wait.wholeS, 1))"
          height="10"
          class="fill"
          :class="{ over: !wait.leftS }"
        />
      </svg>
      <span class="mono left">{{ wait.leftS ? formatDuration(wait.leftS) : 'Ready.' }}</span>
      {{ wait.leftS ? 'to wait' : 'The wait is over' }} after: {{ wait.title }}.
      <b v-if="wait.warn" class="warn" :class="{ past: !wait.leftS }">{{ wait.warn }}</b>
    </div>
    <dl v-if="step.words.length" class="words">
      <template v-for="w in step.words" :key="w.label"
        ><dt>{{ w.label }}</dt>
        <dd class="mono">
          <template v-if="w.secret"
            ><span v-if="shown[w.text]">{{ shown[w.text] }}</span
            ><v-btn v-else size="small" @click="show(w.text)">Show</v-btn></template
          ><template v-else>{{ w.text }}</template>
        </dd></template
      >
    </dl>
    <p v-if="step.hands === 2 && !record" class="mark cautions wrap">
      <ShellStateShape kind="cautions" />For two{{
        step.clears === 'place' ? ', and nobody else works beneath' : ''
      }}
    </p>
    <p v-if="step.clears === 'site' && !record" class="mark cautions wrap">
      <ShellStateShape kind="cautions" />Nobody else works on the site meanwhile
    </p>
    <p v-if="step.noReturn && !record" class="back wrap">
      <b>Point of no return.</b> {{ step.noReturn.why }} <b>Way back:</b>
      {{ step.noReturn.wayBack }}
    </p>
    <v-checkbox
      v-if="step.safety && !record"
      v-model="acknowledged"
      class="safety"
      :label="`Read and heeded: ${step.safety}`"
    />
    <template v-if="step.follows && !record">
      <p v-if="step.follows.kind === 'proof'">
        <NuxtLink :to="stopPath(site.opened.id, 'prove')">Run it in Prove</NuxtLink
        >{{ open.length ? ' once what comes before is done' : '' }}. This step ticks itself then.
      </p>
      <p v-else>
        {{ device ? `It is ${device.state.replace('-', ' ')}.` : '' }}
        <NuxtLink :to="stopPath(site.opened.id, 'adopt')">Adopt</NuxtLink> shows what it waits for.
        This step ticks itself.
      </p>
      <form
        v-if="followed?.state === 'claimed' && open.length === 0"
        class="row"
        @submit.prevent="claim"
      >
        <v-text-field
          v-model="serial"
          label="Serial off the label"
          style="max-width: 260px"
          class="mono"
        /><v-btn
          type="submit"
          color="primary"
          variant="flat"
          :loading="busy"
          :disabled="!serial.trim()"
          >Claim</v-btn
        >
      </form>
    </template>
    <Refusal :says="refused" />
    <div v-if="!record" class="row actions">
      <template v-if="!step.follows">
        <v-btn
          v-if="step.action"
          color="primary"
          variant="flat"
          :disabled="!canDo"
          :loading="busy"
          @click="run('standins')"
          >Let the stand-ins do it</v-btn
        >
        <v-btn
          :color="step.action ? undefined : 'primary'"
          :disabled="!canDo"
          :loading="busy && !step.action"
          @click="run('person')"
          >{{ step.action ? 'I did it myself' : 'Done' }}</v-btn
        >
        <v-text-field
          v-model="note"
          label="Note, reading, name of a photo"
          style="min-width: 200px"
        />
      </template>
    </div>
    <div v-else class="row">
      <v-btn size="small" variant="text" :loading="busy" @click="takeBack">Take the tick back</v-btn
      ><span v-if="record.note" class="faint">{{ record.note }}</span>
    </div>
    <p
      v-if="record?.unsent"
      class="mark wrap"
      :class="record.unsent.refused ? 'blockers' : 'cautions'"
      role="status"
    >
      <ShellStateShape :kind="record.unsent.refused ? 'blockers' : 'cautions'" />{{
        record.unsent.refused
          ? `The server did not take this tick: ${record.unsent.refused}`
          : 'Ticked here; the server hears of it when it can be reached'
      }}
      <template v-if="record.unsent.refused"
        ><v-btn size="small" variant="text" @click="field.again(record.unsent.actId)"
          >Try again</v-btn
        ><v-btn size="small" variant="text" @click="field.discard(record.unsent.actId)"
          >Take it off</v-btn
        ></template
      >
    </p>
    <BringUpStepEvidence :step-id="step.id" />
    <p v-if="step.ifExceeded && !record" class="faint">If it takes longer: {{ step.ifExceeded }}</p>
    <slot />
  </section>
</template>

<style scoped>
.current {
  border: 2px solid var(--ink);
  padding: 12px 16px;
  margin-bottom: 14px;
}
h2 {
  font-size: 20px;
  margin: 0 0 6px;
}
p {
  margin: 2px 0 6px;
}
.words {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 4px 16px;
  margin: 8px 0;
}
.words dt {
  color: var(--faint);
  align-self: center;
}
.words dd {
  margin: 0;
  font-size: 16px;
  overflow-wrap: anywhere;
}
.back {
  border-left: 3px solid var(--blocker);
  padding-left: 8px;
  margin: 8px 0;
}
.safety {
  border-left: 3px solid var(--caution);
  padding-left: 4px;
  margin: 8px 0;
}
.actions {
  margin-top: 8px;
}
.countdown {
  margin: 8px 0;
}
.countdown svg {
  width: 100%;
  height: 12px;
  display: block;
}
.frame {
  fill: none;
  stroke: var(--ink);
}
.fill {
  fill: var(--caution);
}
.fill.over {
  fill: var(--proven);
}
.left {
  font-size: 22px;
  font-weight: 600;
}
.warn {
  display: block;
  color: var(--caution);
}
.warn.past {
  visibility: hidden;
}
@media (max-width: 600px) {
  .current {
    padding: 10px 12px;
  }
  .words {
    grid-template-columns: 1fr;
    gap: 0;
  }
  .words dd {
    margin-bottom: 6px;
    font-size: 17px;
  }
  .actions {
    flex-direction: column;
    align-items: stretch;
  }
}
</style>
