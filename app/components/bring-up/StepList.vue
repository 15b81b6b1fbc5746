<script setup lang="ts">
/** The steps of the day in their order. */
import { type Schedule, type Step } from '@mast/core/bringup'
import { formatDuration } from '@mast/core/words'
import type { StepShown } from '~/stores/field'

const props = defineProps<{
  steps: readonly Step[]
  schedule: Schedule
  done: ReadonlyMap<string, StepShown>
  current: string | null
  now: Date
}>()
const emit = defineEmits<{ choose: [id: string] }>()
const { shown, rest, more, reach } = useShownRows(() => props.steps)
watch(
  () => props.current,
  (id) => reach(props.steps.findIndex((s) => s.id === id)),
  { immediate: true },
)
const at = computed(() => new Map(props.schedule.steps.map((s) => [s.stepId, s])))
function state(s: Step): { kind: 'clear' | 'progress' | 'blockers' | 'nothing'; word: string } {
  const d = props.done.get(s.id)
  if (d?.unsent)
    return d.unsent.refused
      ? { kind: 'blockers', word: 'not taken' }
      : { kind: 'progress', word: 'done, not sent' }
  if (d)
    return new Date(d.readyAt) > props.now
      ? {
          kind: 'progress',
          word: `waits ${formatDuration(Math.ceil((new Date(d.readyAt).getTime() - props.now.getTime()) / 1000))}`,
        }
      : { kind: 'clear', word: 'done' }
  if (s.blockedBy) return { kind: 'blockers', word: 'blocked' }
  return s.needs.every((n) => props.done.has(n))
    ? { kind: 'progress', word: 'can start' }
    : { kind: 'nothing', word: 'later' }
}
</script>

<template>
  <ol class="steps" aria-label="Run sheet">
    <li
      v-for="(s, i) in shown"
      :key="s.id"
      :class="{ current: current === s.id, done: done.has(s.id) }"
    >
      <button type="button" @click="emit('choose', s.id)">
        <span class="mono faint n">{{ i + 1 }}</span><span class="title">{{ s.title }}</span>
        <span class="mono faint time"
          >{{ formatDuration(s.workSeconds)
          }}<template v-if="s.waitSeconds"> + {{ formatDuration(s.waitSeconds) }}</template></span
        >
        <span class="mono faint start">{{
          at.get(s.id) ? formatDuration(at.get(s.id)!.startSeconds) : ''
        }}</span>
        <span class="mark" :class="state(s).kind"
          ><ShellStateShape :kind="state(s).kind" />{{ state(s).word }}</span
        >
      </button>
    </li>
  </ol>
  <RowsMore :rest="rest" what="steps" @more="more" />
</template>

<style scoped>
.steps {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}
li {
  border-bottom: 1px solid var(--hair);
  break-inside: avoid;
}
li.current {
  background: var(--selection);
}
li.done .title {
  color: var(--faint);
}
button {
  display: grid;
  grid-template-columns: 28px 1fr 130px 80px 110px;
  gap: 8px;
  align-items: center;
  width: 100%;
  min-height: 32px;
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
  padding: 2px 0;
}
@media (max-width: 600px) {
  button {
    grid-template-columns: 24px 1fr auto;
    min-height: 48px;
  }
  .time,
  .start {
    display: none;
  }
}
</style>
