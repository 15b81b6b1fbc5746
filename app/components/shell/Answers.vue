<script setup lang="ts">
/** The questions of a sheet, answered in one line each. */
export interface Answered {
  readonly kind: 'clear' | 'cautions' | 'blockers'
  readonly question: string
  readonly answer: string
  readonly why: string
}
defineProps<{ said: readonly Answered[] }>()
</script>

<template>
  <section v-if="said.length" class="answers" aria-label="Answer">
    <div v-for="s in said" :key="s.question" class="answer" :class="s.kind">
      <h2><ShellStateShape :kind="s.kind" /> {{ s.question }}</h2>
      <p class="big">{{ s.answer }}</p>
      <p class="faint">{{ s.why }}</p>
    </div>
  </section>
</template>

<style scoped>
.answers {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(190px, 1fr));
  gap: 0 24px;
  margin-top: 10px;
}
.answer {
  border-top: 1px solid var(--ink);
  padding-top: 6px;
}
.answer.blockers {
  border-color: var(--blocker);
}
.answer.cautions {
  border-color: var(--caution);
}
h2 {
  margin: 0 0 2px;
}
p {
  margin: 0 0 4px;
}
.big {
  font-size: 15px;
  overflow-wrap: anywhere;
}
.faint {
  font-size: 12.5px;
}
</style>
