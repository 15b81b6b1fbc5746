<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
</script>

<template>
  <ShellSheetFrame stop="bridges" has-remarks>
    <BridgesPicker />
    <BridgesAnswer />
    <BridgesProfile />
    <BridgesStaircase />
    <BridgesAim />
    <BridgesEnds />
    <BridgesWay />
    <BridgesYear />
    <BridgesDirections />
    <BridgesMount />
    <BridgesSectors />
    <BridgesMasts />
    <BridgesSky />
  </ShellSheetFrame>
</template>
