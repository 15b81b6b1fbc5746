<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
</script>

<template>
  <ShellSheetFrame stop="uplinks" has-remarks>
    <UplinksAnswer />
    <UplinksOutage />
    <LazyUplinksDraw />
    <UplinksStandby />
    <UplinksLines />
    <LazyUplinksChoices />
    <UplinksReturn />
    <UplinksCurve />
    <LazyUplinksYears />
    <LazyUplinksTryIt />
  </ShellSheetFrame>
</template>
