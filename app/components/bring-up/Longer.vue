<script setup lang="ts">
/** What moves when this step takes longer than planned. */
import { takingLonger, travelIn, type Progress, type Schedule, type Step } from '@mast/core/bringup'
import { formatDuration } from '@mast/core/words'

const props = defineProps<{
  step: Step
  steps: readonly Step[]
  schedule: Schedule
  progress?: Progress
}>()
const site = useSite()
const minutes = ref<number | null>(null)
const own = computed(() => props.schedule.steps.find((s) => s.stepId === props.step.id))
const moves = computed(() =>
  minutes.value && own.value && site.plan
    ? takingLonger(
        props.steps,
        props.schedule,
        props.step.id,
        minutes.value * 60,
        travelIn(site.plan),
        props.progress,
      )
    : null,
)
const title = (id: string): string => props.steps.find((s) => s.id === id)?.title ?? id
</script>

<template>
  <div v-if="own" class="longer">
    <p class="faint">
      <template v-if="own.slackSeconds >= 60"
        >May take {{ formatDuration(own.slackSeconds) }} longer before the day does.</template
      ><template v-else>The day ends later by whatever this takes longer.</template>
      What if by
      <v-btn
        v-for="m in [5, 15, 30, 60]"
        :key="m"
        size="x-small"
        variant="text"
        :aria-pressed="minutes === m"
        @click="minutes = minutes === m ? null : m"
        >{{ m }} min</v-btn
      >
    </p>
    <p v-if="moves" role="status">
      <template v-if="moves.endSeconds"
        >The day ends {{ formatDuration(moves.endSeconds) }} later.</template
      ><template v-else>The day ends no later.</template>
      <template v-if="moves.moved.length"
        >{{ moves.moved.length }} {{ moves.moved.length === 1 ? 'step moves' : 'steps move' }},
        first “{{ title(moves.moved[0]!.stepId) }}” by
        {{ formatDuration(moves.moved[0]!.bySeconds) }}.</template
      >
    </p>
  </div>
</template>

<style scoped>
p {
  margin: 2px 0;
}
.longer [aria-pressed='true'] {
  text-decoration: underline;
}
</style>
