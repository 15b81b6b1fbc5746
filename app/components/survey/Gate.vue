<script setup lang="ts">
/** Whether enough is known of a line to unplug the old one, and what is missing. */
import { gateFacts, mayUnplug } from '@mast/core/survey'
import type { Uplink } from '@mast/core/plan'

const props = defineProps<{ uplink: Uplink }>()
const facts = computed(() => gateFacts(props.uplink))
const known = computed(() => facts.value.filter((f) => f.known).length)
const open = computed(() => mayUnplug(props.uplink))
const title = computed(() =>
  open.value ? 'Gate open: the old line may be unplugged' : 'Gate shut: do not unplug the old line',
)
</script>

<template>
  <div class="gate keep" :class="{ open }" role="status">
    <p class="verdict label">{{ title }}</p>
    <p class="faint">{{ known }} of {{ facts.length }} facts of {{ uplink.name }} are known.</p>
    <ul v-if="!open" class="missing">
      <li v-for="f in facts.filter((x) => !x.known)" :key="f.key">
        <b>{{ f.label }}</b> <span class="faint">{{ f.where }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.gate {
  color: var(--blocker);
  border: 1px solid currentColor;
  padding: 8px 14px;
  margin-bottom: 12px;
}
.gate.open {
  color: var(--proven);
}
.gate p,
.gate ul {
  color: var(--ink);
  margin: 0;
}
.verdict {
  font-size: 16px;
  font-weight: 600;
  color: inherit !important;
}
.gate .faint {
  color: var(--faint);
}
.missing {
  padding-left: 18px;
  margin-top: 6px !important;
  font-size: 13.5px;
  columns: 2;
  column-gap: 24px;
}
@media (max-width: 600px) {
  .missing {
    columns: 1;
  }
}
</style>
