<script setup lang="ts">
/** What a lamp says, by its colour and rhythm. */
import { catalogue, rhythmWords } from '@mast/core/plan'

const site = useSite()
const colour = ref<string | null>(null)
const rhythm = ref<string | null>(null)
const all = computed(
  () =>
    (
      Object.values(site.plan?.profiles ?? {}).find((p) => p.lights.length > 0) ??
      catalogue['gateway-4-2']!
    ).lights,
)
const lights = computed(() =>
  all.value.filter(
    (l) =>
      (!colour.value || l.colour === colour.value) &&
      (!rhythm.value || l.rhythm === rhythm.value || l.colour === 'off'),
  ),
)
const lit = computed(() => all.value.filter((l) => l.colour !== 'off'))
const colours = computed(() => [
  ...new Set(lit.value.map((l) => l.colour)),
  { title: 'dark', value: 'off' },
])
const rhythms = computed(() =>
  [...new Set(lit.value.map((l) => l.rhythm))].map((value) => ({
    title: rhythmWords(value),
    value,
  })),
)
</script>

<template>
  <section aria-label="Light decoder">
    <h2>What does its lamp say?</h2>
    <div class="row">
      <v-select v-model="colour" label="Colour" clearable :items="colours" class="choice" />
      <v-select v-model="rhythm" label="Rhythm" clearable :items="rhythms" class="choice" />
    </div>
    <ul>
      <li v-for="l in lights" :key="l.state">
        <BringUpLamp :light="l" />
        <p>{{ l.meaning }}</p>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}
li {
  border-bottom: 1px solid var(--hair);
  padding: 5px 0;
  font-size: 13px;
}
p {
  margin: 2px 0 0;
  color: var(--faint);
}
.choice {
  flex: 1;
  min-width: 110px;
}
</style>
