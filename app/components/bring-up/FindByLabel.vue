<script setup lang="ts">
/** Reads a label, or takes a serial that is typed, and opens the step of that device. */
import { normalHardwareAddress } from '@mast/core/formats'
import { deviceOfLabel, type Step } from '@mast/core/bringup'

const props = defineProps<{ steps: readonly Step[]; done: ReadonlySet<string> }>()
const emit = defineEmits<{ choose: [id: string] }>()
const site = useSite()
const isReading = ref(false)
const typed = ref('')
const said = ref<string | undefined>()
function take(text: string): void {
  isReading.value = false
  said.value = undefined
  const found = deviceOfLabel(site.opened.plan, text, normalHardwareAddress(text) ?? null)
  if (!found.device) {
    said.value = found.says
    return
  }
  const { id, name } = found.device
  const own = props.steps.filter((s) => s.deviceId === id)
  const next = own.find((s) => !props.done.has(s.id)) ?? own.at(-1)
  if (next) emit('choose', next.id)
  else said.value = `${name} has no step today.`
  typed.value = ''
}
</script>

<template>
  <section class="by-label no-print" aria-label="Find the step of a device">
    <form class="row" @submit.prevent="take(typed)">
      <v-text-field
        v-model="typed"
        label="Serial or hardware address off a label"
        density="compact"
        hide-details
        class="mono"
        style="min-width: 220px"
      />
      <v-btn type="submit" size="small" :disabled="!typed.trim()">Open its step</v-btn>
      <v-btn size="small" variant="text" @click="isReading = !isReading">Read a label</v-btn>
    </form>
    <LazySurveyLabelReader v-if="isReading" what="serial" @read="take" @close="isReading = false" />
    <Refusal :says="said" />
  </section>
</template>

<style scoped>
.by-label {
  margin: 10px 0;
}
</style>
