<script setup lang="ts">
definePageMeta({ layout: 'sheet' })
const shown = ref(false)
</script>

<template>
  <ShellSheetFrame stop="survey" has-remarks>
    <SurveyTask />
    <SurveySiteFacts />
    <SurveyBoard />
    <SurveyEquipment />
    <SurveyLocations />
    <SurveyMaterials />
    <SurveyScan />
    <details
      class="no-print"
      @toggle="
        (e) => {
          shown = (e.target as HTMLDetailsElement).open
        }
      "
    >
      <summary>Profiles: what each kind of device can do</summary>
      <SurveyProfiles v-if="shown" />
    </details>
  </ShellSheetFrame>
</template>

<style scoped>
summary {
  cursor: pointer;
  font-family: var(--label);
  font-stretch: 87%;
  font-weight: 600;
  font-size: 15px;
  padding: 12px 0 6px;
}
</style>
