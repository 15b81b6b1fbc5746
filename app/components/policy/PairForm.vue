<script setup lang="ts">
import { placeName, portsInWords } from '@mast/core/plan'


const props = defineProps<{ pair: { from: string; to: string } }>()
const emit = defineEmits<{ close: [] }>()
const site = useSite()
const current = Object.values(site.plan!.intents).filter((i) => i.from === props.pair.from && i.to === props.pair.to)
const action = ref<'allow' | 'deny'>(current[0]?.action ?? 'allow')
const services = ref<string[]>(current.some((i) => i.service === 'any') ? [] : current.map((i) => i.service))
const reason = ref(current[0]?.reason ?? '')
const refused = ref<string | undefined>()
function state(): void {
  const { from, to } = props.pair
  refused.value = site.edit('stateIntent', { id: `int-${from}-${to.replace(/\W/g, '')}`.slice(0, 60), from, to, services: services.value.length ? services.value : 'any', action: action.value, reason: reason.value })
  if (!refused.value) emit('close')
}
function clear(): void {
  site.edit('clearIntents', props.pair)
  emit('close')
}
</script>

<template>
  <form class="in-place" aria-label="State the pair" @submit.prevent="state">
    <b>{{ placeName(site.plan!, pair.from) }} to {{ placeName(site.plan!, pair.to) }}</b>
    <div class="fields mt-2">
      <v-select v-model="action" label="Verdict" :items="[{ title: 'allow', value: 'allow' }, { title: 'deny', value: 'deny' }]" />
      <v-select v-model="services" label="Services" multiple placeholder="everything" persistent-placeholder :items="Object.values(site.plan!.services).map((s) => ({ title: `${s.name}${s.ports.length ? ` (${s.protocol} ${portsInWords(s.ports)})` : ''}`, value: s.id }))"><template #selection="{ item, index }">{{ index ? ', ' : '' }}{{ site.plan!.services[item.value]?.name }}</template></v-select>
      <v-text-field v-model="reason" label="Why" maxlength="200" />
    </div>
    <div class="row mt-2"><v-btn type="submit" color="primary">State it</v-btn><v-btn variant="text" @click="clear">Leave it to the default</v-btn><v-btn variant="text" @click="emit('close')">Not now</v-btn></div>
    <p v-if="refused" class="mark blockers" role="alert">{{ refused }}</p>
  </form>
</template>
