<script setup lang="ts">
/** The shape of a state: filled square, triangle, open circle, double ring, tick. */
defineProps<{
  kind: 'blockers' | 'cautions' | 'note' | 'proven' | 'clear' | 'nothing' | 'progress'
  count?: number
}>()
</script>

<template>
  <svg v-if="kind === 'blockers'" width="18" height="16" viewBox="0 0 18 16" aria-hidden="true">
    <rect x="1" y="1" width="16" height="14" fill="currentColor" />
    <text
      v-if="count"
      x="9"
      y="12"
      text-anchor="middle"
      font-size="11"
      font-weight="700"
      fill="var(--paper)"
    >
      {{ count }}
    </text>
  </svg>
  <svg
    v-else-if="kind === 'cautions'"
    width="20"
    height="17"
    viewBox="0 0 20 17"
    aria-hidden="true"
  >
    <path d="M10 1 L19 16 H1 Z" fill="none" stroke="currentColor" stroke-width="1.6" />
    <text
      v-if="count"
      x="10"
      y="14"
      text-anchor="middle"
      font-size="9.5"
      font-weight="700"
      fill="currentColor"
    >
      {{ count }}
    </text>
  </svg>
  <svg v-else-if="kind === 'proven'" width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
    <circle cx="8" cy="8" r="7" fill="none" stroke="currentColor" stroke-width="1.4" />
    <circle cx="8" cy="8" r="4" fill="none" stroke="currentColor" stroke-width="1.4" />
  </svg>
  <svg v-else-if="kind === 'clear'" width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
    <path d="M2 7.5 L5.5 11 L12 3" fill="none" stroke="currentColor" stroke-width="1.6" />
  </svg>
  <svg
    v-else-if="kind === 'progress'"
    width="14"
    height="14"
    viewBox="0 0 14 14"
    aria-hidden="true"
  >
    <path d="M2 12 V7 H7 V2 H12" fill="none" stroke="currentColor" stroke-width="1.4" />
  </svg>
  <svg v-else-if="kind === 'note'" width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
    <circle cx="7" cy="7" r="5.5" fill="none" stroke="currentColor" stroke-width="1.4" />
  </svg>
  <svg v-else width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
    <path d="M3 7 H11" stroke="currentColor" stroke-width="1.2" />
  </svg>
</template>
