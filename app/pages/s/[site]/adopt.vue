<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
</script>

<template>
  <ShellSheetFrame stop="adopt" has-remarks>
    <AdoptReleases />
    <AdoptRoll />
    <AdoptWithoutController />
    <AdoptClients />
    <AdoptClaimList />
    <AdoptFromTheBox />
    <template #margin><FieldStandinsPanel /><AdoptAddressCheck /><AdoptEvents /></template>
  </ShellSheetFrame>
</template>
