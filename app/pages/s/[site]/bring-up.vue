<script setup lang="ts">
import { recoveryStepsOf, runSheetOf, scheduleOf, travelIn } from '@mast/core/bringup'
import { formatDuration } from '@mast/core/words'

definePageMeta({ layout: 'sheet' })
const site = useSite()
const field = useField()
const people = ref(1)
const sheet = computed(() => (site.model ? runSheetOf(site.model) : []))
/** Devices that were in and are no longer heard. */
const lost = computed(() =>
  field.devices.filter((d) => d.state === 'lost' && d.claimed && d.configurationMatches !== null),
)
/** What to do about them comes first. */
const recovery = computed(() =>
  site.model ? lost.value.flatMap((d) => recoveryStepsOf(site.opened.model, d.deviceId)) : [],
)
const schedule = computed(() =>
  scheduleOf(sheet.value, people.value, site.plan ? travelIn(site.plan) : undefined),
)
/** In the order in which the schedule starts them. */
const steps = computed(() => {
  const start = new Map(schedule.value.steps.map((s) => [s.stepId, s.startSeconds]))
  return [
    ...recovery.value,
    ...[...sheet.value].sort((a, b) => start.get(a.id)! - start.get(b.id)!),
  ]
})
const done = computed(() => field.done)
const now = useNow({ interval: 500 })
const ready = (id: string): boolean => {
  const s = done.value.get(id)
  return !!s && new Date(s.readyAt) <= now.value
}
const possible = (s: (typeof steps.value)[number]): boolean =>
  !done.value.has(s.id) && s.needs.every(ready)
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
    (held && possible(held) ? held : undefined) ??
    steps.value.find(possible) ??
    steps.value.find((s) => !done.value.has(s.id)) ??
    null
  )
})
const chosenId = ref<string | null>(null)
const chosen = computed(() => steps.value.find((s) => s.id === chosenId.value) ?? current.value)
// A step that somebody chose or began stays under their hands until it is done, whatever else
// becomes possible meanwhile.
watch(done, (now) => {
  if (chosenId.value && now.has(chosenId.value)) chosenId.value = null
})
</script>

<template>
  <ShellSheetFrame stop="bring-up" has-remarks>
    <template #tools>
      <v-select v-model="people" label="People" :items="[1, 2, 3]" style="width: 90px" />
    </template>
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
        @begun="chosenId = chosen.id"
      />
      <p v-else class="mark clear big">
        <ShellStateShape kind="clear" />Every step is done. On to the proof.
      </p>
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
      <BringUpStaging />
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
      <BringUpLightDecoder />
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
