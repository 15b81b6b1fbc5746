<script setup lang="ts">
import {
  recoveryStepsOf,
  runSheetOf,
  scheduleOf,
  SteadyClock,
  travelIn,
  underWay,
  waitsOf,
} from '@mast/core/bringup'
import { formatDuration } from '@mast/core/words'

definePageMeta({ layout: 'sheet' })
const site = useSite()
const field = useField()
const { people, nameOf } = useDayPeople(site.opened.id)
const sheet = computed(() => (site.model ? runSheetOf(site.model) : []))
/** Devices that were in and are no longer heard. */
const lost = computed(() =>
  field.devices.filter((d) => d.state === 'lost' && d.claimed && d.configurationMatches !== null),
)
/** What to do about them comes first. */
const recovery = computed(() =>
  site.model ? lost.value.flatMap((d) => recoveryStepsOf(site.opened.model, d.deviceId)) : [],
)
const travel = computed(() => (site.plan ? travelIn(site.plan) : undefined))
const schedule = computed(() => scheduleOf(sheet.value, people.value.names.length, travel.value))
/** In the order in which the schedule starts them. */
const steps = computed(() => {
  const start = new Map(schedule.value.steps.map((s) => [s.stepId, s.startSeconds]))
  return [
    ...recovery.value,
    ...[...sheet.value].sort((a, b) => start.get(a.id)! - start.get(b.id)!),
  ]
})
const done = computed(() => field.done)
const wall = useNow({ interval: 500 })
/** This device's clock may be set back in the middle of a wait. */
const steady = new SteadyClock()
const now = computed(() => new Date(steady.at(wall.value.getTime())))
const ticked = computed(() =>
  [...done.value.values()].map((d) => ({
    stepId: d.stepId,
    doneMs: new Date(d.doneAt).getTime(),
    readyMs: new Date(d.readyAt).getTime(),
    by: d.by,
  })),
)
const waits = computed(() => waitsOf(steps.value, ticked.value, now.value.getTime()))
/** The rest of the day is laid out anew when something is done, and now and then. */
const roughNow = useNow({ interval: 20_000 })
const day = computed(() => {
  const at = Math.max(roughNow.value.getTime(), ...ticked.value.map((t) => t.doneMs))
  const found = underWay(sheet.value, ticked.value, people.value.names, at)
  if (!found) return null
  const speed = field.standins?.speed ?? 1
  const rest = sheet.value.map((s) => ({ ...s, waitSeconds: Math.round(s.waitSeconds / speed) }))
  const { length } = people.value.names
  return { ...found, rest, schedule: scheduleOf(rest, length, travel.value, found.progress) }
})
/** How much later than planned at first the day ends, s. */
const behindSeconds = computed(() =>
  day.value && !field.standins ? day.value.schedule.totalSeconds - schedule.value.totalSeconds : 0,
)
const doneIds = computed(() => new Set(done.value.keys()))
const ready = (id: string): boolean => {
  const s = done.value.get(id)
  return !!s && new Date(s.readyAt) <= now.value
}
const possible = (s: (typeof steps.value)[number]): boolean =>
  !done.value.has(s.id) && s.needs.every(ready)
/** Whose the steps still to be done are, as the rest of the day is laid out. */
const persons = computed(
  () =>
    new Map(
      (day.value?.schedule ?? schedule.value).steps.map((s) => [s.stepId, [s.person, s.helper]]),
    ),
)
const isOwn = (s: (typeof steps.value)[number]): boolean =>
  people.value.own === null || (persons.value.get(s.id)?.includes(people.value.own) ?? true)
/**
 * The step now at hand. One that hands can do stays until it is done, even where the end of a wait
 * opens an earlier one: nothing is
 *  swapped under a finger. */
const current = computed<(typeof steps.value)[number] | null>((before) => {
  const held =
    before && !before.follows && !before.blockedBy
      ? steps.value.find((s) => s.id === before.id)
      : undefined
  return (
    (held && possible(held) && isOwn(held) ? held : undefined) ??
    steps.value.find((s) => possible(s) && isOwn(s)) ??
    (people.value.own === null
      ? undefined
      : steps.value.find((s) => !done.value.has(s.id) && isOwn(s))) ??
    steps.value.find(possible) ??
    steps.value.find((s) => !done.value.has(s.id)) ??
    null
  )
})
const chosenId = ref<string | null>(null)
const chosen = computed(() => steps.value.find((s) => s.id === chosenId.value) ?? current.value)
const whoText = (id: string): string | null => {
  const [person, helper] = persons.value.get(id) ?? []
  if (person === undefined || person === null) return null
  return helper == null ? nameOf(person) : `${nameOf(person)} with ${nameOf(helper)}`
}
// A step that somebody chose or began stays under their hands until it is done, whatever else
// becomes possible meanwhile.
watch(done, (now) => {
  if (chosenId.value && now.has(chosenId.value)) chosenId.value = null
})
</script>

<template>
  <ShellSheetFrame stop="bring-up" has-remarks>
    <p v-if="steps.length === 0" class="lead">
      The run sheet is made from the plan. It needs devices that a controller adopts; list the
      equipment in Survey first.
    </p>
    <template v-else>
      <p v-if="recovery.length" class="mark cautions">
        <ShellStateShape kind="cautions" />{{
          lost.map((d) => site.plan?.devices[d.deviceId]?.name ?? d.deviceId).join(', ')
        }}
        lost: what to do about it comes first
      </p>
      <p class="totals">
        <b>{{ sheet.filter((s) => done.has(s.id)).length }}</b> of {{ sheet.length }} steps done.
        Whole day <b>{{ formatDuration(schedule.totalSeconds) }}</b>, hands on
        <b>{{ formatDuration(schedule.workSeconds) }}</b><template v-if="schedule.travelSeconds"
          >, on the way <b>{{ formatDuration(schedule.travelSeconds) }}</b></template
        >, not shorter than <b>{{ formatDuration(schedule.criticalSeconds) }}</b> with any number of
        people.
        <template v-if="day && doneIds.size < sheet.length"
          >The rest takes
          <b>{{ formatDuration(day.schedule.totalSeconds - day.progress.nowSeconds) }}</b>, until
          <b>{{
            timeText(new Date(day.begunMs + day.schedule.totalSeconds * 1000).toISOString())
          }}</b><template v-if="Math.abs(behindSeconds) >= 300"
            >, {{ formatDuration(Math.abs(behindSeconds)) }}
            {{ behindSeconds > 0 ? 'later' : 'sooner' }} than planned</template
          >.
        </template>
        <template v-if="schedule.outage"
          >Cut over at <b>{{ formatDuration(schedule.outage.fromSeconds) }}</b>; the site is without
          its line or some hosts for
          <b>{{
            formatDuration(schedule.outage.toSeconds - schedule.outage.fromSeconds)
          }}</b>.</template
        >
      </p>
      <BringUpCurrentStep
        v-if="chosen"
        :key="chosen.id"
        :step="chosen"
        :steps="steps"
        :now="now"
        :who="people.names.length > 1 ? whoText(chosen.id) : null"
        @begun="chosenId = chosen.id"
      >
        <BringUpLonger
          v-if="chosen && !done.has(chosen.id)"
          :step="chosen"
          :steps="day?.rest ?? sheet"
          :schedule="day?.schedule ?? schedule"
          :progress="day?.progress"
        />
      </BringUpCurrentStep>
      <p v-else class="mark clear big">
        <ShellStateShape kind="clear" />Every step is done. On to the proof.
      </p>
      <BringUpFindByLabel
        :steps="steps"
        :done="doneIds"
        @choose="(id: string) => (chosenId = id)"
      />
      <BringUpWaits :waits="waits" @choose="(id: string) => (chosenId = id)" />
      <BringUpParty :steps="sheet" :schedule="day?.schedule ?? schedule" :done="doneIds" />
      <BringUpLanes
        :steps="sheet"
        :schedule="schedule"
        :done="done"
        :current="chosen?.id ?? null"
        @choose="
          (id: string) => {
            chosenId = id
          }
        "
      />
      <BringUpStopToday
        :steps="sheet"
        :done="done"
        :now-ms="now.getTime()"
        @choose="(id: string) => (chosenId = id)"
      />
      <BringUpSetUpTable />
      <BringUpStaging />
      <BringUpFindIt />
      <BringUpStepList
        :steps="steps"
        :schedule="schedule"
        :done="done"
        :current="chosen?.id ?? null"
        :now="now"
        @choose="
          (id: string) => {
            chosenId = id
          }
        "
      />
    </template>
    <template #margin>
      <FieldStandinsPanel />
      <BringUpLightDecoder :device-id="chosen?.deviceId ?? null" />
    </template>
  </ShellSheetFrame>
</template>

<style scoped>
.totals {
  margin: 0 0 10px;
}
.big {
  font-size: 18px;
}
</style>
