<script setup lang="ts">
/** The end of a long table: brings more of it when it comes into sight, and by its button. */
defineProps<{ rest: number; what: string }>()
const emit = defineEmits<{ more: [] }>()
const end = ref<HTMLElement | null>(null)
useIntersectionObserver(
  end,
  ([entry]) => {
    if (entry?.isIntersecting) emit('more')
  },
  { rootMargin: '200px' },
)
</script>

<template>
  <p v-if="rest > 0" ref="end" class="no-print faint">
    <v-btn size="small" variant="text" @click="emit('more')">Show more</v-btn> {{ rest }} more
    {{ what }}
  </p>
</template>
