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
    <svg width="120" height="68" viewBox="0 0 150 84" aria-hidden="true">
      <path d="M8 60 H58 M92 60 H142" stroke="currentColor" stroke-width="2" />
      <rect
        v-if="!open"
        x="60"
        y="14"
        width="30"
        height="52"
        fill="none"
        stroke="currentColor"
        stroke-width="2"
      />
      <path
        v-if="!open"
        d="M60 24 H90 M60 34 H90 M60 44 H90 M60 54 H90"
        stroke="currentColor"
        stroke-width="1"
      />
      <path
        v-else
        d="M60 60 H90 M60 66 V14 M90 66 V14 M60 14 L44 22 M90 14 L106 22"
        stroke="currentColor"
        stroke-width="2"
      />
      <text x="8" y="78" font-size="12" fill="currentColor">old line</text>
      <text x="98" y="78" font-size="12" fill="currentColor">gateway</text>
    </svg>
    <div>
      <p class="verdict label">{{ title }}</p>
      <p class="faint">{{ known }} of {{ facts.length }} facts of {{ uplink.name }} are known.</p>
      <ul v-if="!open" class="missing">
        <li v-for="f in facts.filter((x) => !x.known)" :key="f.key">
          <b>{{ f.label }}</b> <span class="faint">{{ f.where }}</span>
        </li>
      </ul>
    </div>
  </div>
</template>

<style scoped>
.gate {
  display: flex;
  gap: 16px;
  align-items: flex-start;
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
  .gate svg {
    display: none;
  }
  .missing {
    columns: 1;
  }
}
</style>
