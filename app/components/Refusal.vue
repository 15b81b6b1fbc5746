<script setup lang="ts">
/** Why what was asked was not done, beside where it was asked. Nothing where it was done. */
defineProps<{ says: string | null | undefined }>()
</script>

<template>
  <p v-if="says" class="mark blockers wrap" role="alert">{{ says }}</p>
</template>
