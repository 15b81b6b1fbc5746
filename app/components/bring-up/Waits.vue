<script setup lang="ts">
/** All waits of the day, side by side. */
import type { Wait } from '@mast/core/bringup'
import { exactDuration, formatDuration } from '@mast/core/words'

const props = defineProps<{ waits: readonly Wait[] }>()
const emit = defineEmits<{ choose: [id: string] }>()
const { isOn, refused, turn } = useWaitSignals(toRef(props, 'waits'))
const running = computed(() => props.waits.filter((w) => w.leftSeconds > 0))
const over = computed(() => props.waits.filter((w) => w.leftSeconds === 0))
</script>

<template>
  <section v-if="waits.length" class="waits" aria-label="Waits">
    <div class="row head">
      <h2>
        {{ running.length ? `${running.length} running` : 'No wait runs' }}
      </h2>
      <v-checkbox
        :model-value="isOn"
        label="Sound and notification when one is over"
        density="compact"
        hide-details
        @update:model-value="turn($event === true)"
      />
    </div>
    <p v-if="refused" class="faint">{{ refused }}</p>
    <ul>
      <li v-for="w in running" :key="w.stepId">
        <button type="button" @click="emit('choose', w.stepId)">
          <span class="mono left">{{ exactDuration(w.leftSeconds) }}</span>
          <span
            >{{ w.title }}<b v-if="w.whileWaiting" class="warn">{{ w.whileWaiting }}</b></span
          >
        </button>
        <progress
          :value="w.wholeSeconds - w.leftSeconds"
          :max="w.wholeSeconds"
          :aria-label="w.title"
        ></progress>
      </li>
      <li v-for="w in over" :key="w.stepId">
        <button type="button" @click="emit('choose', w.stepId)">
          <span class="mono left">over</span>
          <span
            >{{ w.title }}, {{ formatDuration(Math.max(1, w.overSeconds)) }} ago.
            <template v-if="w.next">Next: {{ w.next }}</template
            ><b v-if="w.check" class="warn">Longer than usual. {{ w.check }}</b></span
          >
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.waits {
  border: 1px solid var(--hair);
  padding: 4px 12px;
  margin-bottom: 12px;
}
.head {
  justify-content: space-between;
}
h2 {
  font-size: 15px;
  margin: 4px 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--hair);
  padding: 2px 0;
}
button {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 8px;
  align-items: baseline;
  width: 100%;
  min-height: 32px;
  padding: 2px 0;
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.left {
  font-weight: 600;
}
.warn {
  display: block;
  font-weight: 500;
  color: var(--caution);
}
progress {
  display: block;
  width: 100%;
  height: 4px;
  accent-color: var(--caution);
}
@media (max-width: 600px) {
  button {
    min-height: 48px;
  }
}
</style>
