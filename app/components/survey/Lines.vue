<script setup lang="ts">
/**
 * The provider lines in the order in which they are used: what is known of each hand-off. One open
 * at a time.
 */
import { mayUnplug } from '@mast/core/survey'
import { uplinksInOrder, newId } from '@mast/core/plan'

const site = useSite()
const lines = computed(() => uplinksInOrder(site.opened.plan))
const chosen = ref<string | null>(null)
const shown = computed(() => lines.value.find((l) => l.id === chosen.value) ?? lines.value[0])
watch(
  () => site.selected,
  (id) => {
    if (lines.value.some((l) => l.id === id)) chosen.value = id
  },
)
function add(): void {
  const name = lines.value.length === 0 ? 'Provider line' : 'Second line'
  const id = newId(site.opened.plan, lines.value.length === 0 ? 'line' : name)
  if (!site.edit('addUplink', { id, name, rank: Math.min(9, lines.value.length) }))
    chosen.value = id
}
</script>

<template>
  <section v-if="lines.length === 0" data-drawing class="in-place">
    <h2 class="mt-0">No provider line yet</h2>
    <p>
      Write down what the provider hands over before anything is unplugged: the gate below then says
      what is still missing.
    </p>
    <v-btn color="primary" @click="add">Record a line</v-btn>
  </section>
  <section v-else data-drawing aria-label="Lines">
    <div class="row lines no-print">
      <button
        v-for="l in lines"
        :key="l.id"
        type="button"
        class="tab"
        :class="{ on: l.id === shown?.id }"
        :aria-pressed="l.id === shown?.id"
        @click="chosen = l.id"
      >
        <ShellStateShape :kind="mayUnplug(l) ? 'clear' : 'blockers'" /> {{ l.rank + 1 }}
        {{ l.name }} <span class="faint">{{ mayUnplug(l) ? 'gate open' : 'gate shut' }}</span>
      </button>
      <v-btn size="small" variant="text" @click="add">Record another line</v-btn>
    </div>
    <SurveyUplinkCard v-if="shown" :key="shown.id" :uplink="shown" :last="lines.length === 1" />
  </section>
</template>

<style scoped>
.lines {
  margin-bottom: 8px;
}
</style>
