<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
</script>

<template>
  <ShellSheetFrame
    stop="wifi"
    sheet="wifi"
    question="Which networks are on the air, and where do they land?"
  >
    <WifiNetworks />
  </ShellSheetFrame>
</template>
