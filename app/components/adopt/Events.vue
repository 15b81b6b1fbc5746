<script setup lang="ts">
/** What the devices told, newest first. */
const site = useSite()
const field = useField()
const events = computed(() => field.events.slice(0, 14))
</script>

<template>
  <section v-if="events.length" aria-label="What happened">
    <h2>What happened</h2>
    <ol>
      <li v-for="(e, i) in events" :key="i">
        <span class="mono faint">{{ secondText(e.at) }}</span>
        {{ site.plan?.devices[e.deviceId]?.name ?? e.deviceId }}: {{ e.toState.replace('-', ' ') }}
        <span class="faint">{{ e.detail }}</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  padding: 0;
  margin: 0;
  font-size: 12.5px;
}
li {
  border-bottom: 1px solid var(--hair);
  padding: 2px 0;
  overflow-wrap: anywhere;
}
</style>
