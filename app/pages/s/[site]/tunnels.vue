<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
</script>

<template>
  <ShellSheetFrame stop="tunnels" has-remarks>
    <TunnelsPicker />
    <TunnelsAnswer />
    <TunnelsWheel />
    <TunnelsPeers />
    <TunnelsPeer />
    <TunnelsSides />
    <TunnelsIke />
    <TunnelsShow />
    <TunnelsFacts />
  </ShellSheetFrame>
</template>
