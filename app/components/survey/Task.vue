<script setup lang="ts">
/** What is to be done on the site of an exercise, and what decides. */
import type { Exercise } from '~~/demo/exercises/exercise'
import { exerciseNames } from '~~/demo/exercises/names'

const site = useSite()
const exercise = shallowRef<Exercise | undefined>()
watch(
  () => site.plan?.site.name,
  async (name) => {
    exercise.value =
      name && exerciseNames.includes(name)
        ? (await import('~~/demo/exercises')).exercises.find((e) => e.name === name)
        : undefined
  },
  { immediate: true },
)
</script>

<template>
  <section v-if="exercise" class="task no-print" aria-label="Exercise">
    <p><b>Exercise.</b> {{ exercise.task }}</p>
    <p class="faint">What decides: {{ exercise.decides }}</p>
  </section>
</template>

<style scoped>
.task {
  border-left: 3px solid rgb(var(--v-theme-primary));
  padding: 4px 14px;
  margin: 0 0 14px;
  max-width: 72ch;
}
p {
  margin: 4px 0;
}
</style>
