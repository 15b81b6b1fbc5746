<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
const print = (): void => window.print()
</script>

<template>
  <ShellSheetFrame stop="hand-over">
    <template #tools><v-btn color="primary" variant="flat" @click="print">Print</v-btn></template>
    <HandOverDocument />
  </ShellSheetFrame>
</template>
