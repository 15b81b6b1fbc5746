<script setup lang="ts">
/** Small invented sites, on each of which one whole job of the trade is done. */
import { openSite } from '@mast/api'
import type { Exercise } from '~~/demo/exercises/exercise'
import { stopPath } from '~/composables/stops'

const exercises = shallowRef<readonly Exercise[] | null>(null)
const refused = ref<string | null>(null)
async function load(): Promise<void> {
  exercises.value ??= (await import('~~/demo/exercises')).exercises
}
async function open(exercise: Exercise): Promise<void> {
  refused.value = null
  try {
    const { id } = await ask(openSite, { body: { name: exercise.name, plan: exercise.begin() } })
    await navigateTo(stopPath(id, 'survey'))
  } catch (error) {
    refused.value = errorText(error)
  }
}
</script>

<template>
  <details class="exercises" @toggle="load">
    <summary>Or an exercise: one job of the trade on an invented site</summary>
    <Refusal :says="refused" />
    <ol>
      <li v-for="e in exercises ?? []" :key="e.id" :data-exercise="e.id">
        <div>
          <b>{{ e.name }}</b>
          <p>{{ e.task }}</p>
          <p class="faint">What decides: {{ e.decides }}</p>
        </div>
        <v-btn
          size="small"
          variant="outlined"
          :aria-label="`Open the exercise ${e.name}`"
          @click="open(e)"
          >Open</v-btn
        >
      </li>
    </ol>
  </details>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  max-height: 42vh;
  overflow-y: auto;
}
li {
  display: flex;
  gap: 12px;
  align-items: start;
  justify-content: space-between;
  border-bottom: 1px solid var(--hair);
  padding: 8px 2px;
}
p {
  margin: 2px 0;
  font-size: 13.5px;
}
</style>
