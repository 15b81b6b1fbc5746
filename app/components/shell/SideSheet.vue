<script setup lang="ts">
/** A sheet beside the line of stops: history, people, account. */
const props = defineProps<{
  title: string
  question: string
  back: { to: string; label: string }
}>()
const finding = ref(false)
useHead(() => ({ title: `${props.title} · Able Mast` }))
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key === '/' && !['INPUT', 'TEXTAREA'].includes((event.target as HTMLElement).tagName)) {
    event.preventDefault()
    finding.value = true
  }
})
</script>

<template>
  <div class="frame">
    <ShellTopStrip @find="finding = true" />
    <main class="sheet">
      <p class="back">
        <NuxtLink :to="back.to">{{ back.label }}</NuxtLink>
      </p>
      <h1>{{ title }}</h1>
      <p class="question faint">{{ question }}</p>
      <slot />
    </main>
    <ShellFindDialog v-model="finding" />
  </div>
</template>

<style scoped>
.frame {
  min-height: 100dvh;
  background: var(--desk);
}
.sheet {
  background: var(--paper);
  margin: 12px auto;
  padding: 16px 24px 24px;
  border: 1px solid var(--hair);
  max-width: 1180px;
  min-height: calc(100dvh - 70px);
}
.question {
  margin: 0 0 12px;
}
.back {
  margin: 0 0 6px;
  font-size: 13px;
}
@media (max-width: 900px) {
  .sheet {
    margin: 0;
    padding: 12px;
    border: 0;
  }
}
</style>
