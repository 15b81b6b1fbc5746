<script setup lang="ts">
const site = useSite()
const uplinks = computed(() => Object.values(site.plan?.uplinks ?? {}))
</script>

<template>
  <ShellSheetFrame stop="survey" sheet="survey" question="May I unplug the old line? What is in the boxes?">
    <SurveyUplinkCard v-for="u in uplinks" :key="u.id" :uplink="u" />
    <SurveyNewUplink v-if="uplinks.length === 0" />
    <SurveyEquipment />
    <SurveySiteFacts />
  </ShellSheetFrame>
</template>
