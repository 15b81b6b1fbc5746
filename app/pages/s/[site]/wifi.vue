<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
</script>

<template>
  <ShellSheetFrame stop="wifi" has-remarks>
    <WifiPlace />
    <WifiNetworks />
  </ShellSheetFrame>
</template>
