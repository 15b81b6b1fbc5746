<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
</script>

<template>
  <ShellSheetFrame stop="adopt" sheet="adopt" question="Who is in, and what does each wait for?">
    <AdoptReleases />
    <AdoptRoll />
    <template #margin><FieldStandinsPanel /><AdoptAddressCheck /><AdoptEvents /></template>
  </ShellSheetFrame>
</template>
