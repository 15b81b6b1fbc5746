<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
</script>

<template>
  <ShellSheetFrame stop="wiring" has-remarks>
    <WiringLoom />
    <WiringNewCable />
    <WiringControllerPlace />
    <WiringPortTable />
    <WiringPowerTable />
  </ShellSheetFrame>
</template>
