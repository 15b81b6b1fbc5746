<script setup lang="ts">
/**
 * States one pair, from the grid or of ends that are chosen here: what may be used, when, and why.
 */
import { usualVerdict } from '@mast/core/policy'
import {
  ANYWHERE,
  daysWords,
  idFor,
  isIdTaken,
  MANAGED,
  placeName,
  portsInWords,
} from '@mast/core/plan'

/** `open`: its ends are chosen in the form. */
const props = defineProps<{ pair: { from: string; to: string }; open?: boolean }>()
const emit = defineEmits<{ close: [] }>()
const site = useSite()
const from = ref(props.pair.from)
const to = ref(props.pair.to)
const current = computed(() =>
  Object.values(site.opened.plan.intents).filter((i) => i.from === from.value && i.to === to.value),
)
const action = ref<'allow' | 'deny'>('deny')
const services = ref<string[]>([])
const reason = ref('')
const isTimed = ref(false)
const days = ref<number[]>([1, 2, 3, 4, 5])
const begins = ref('08:00')
const ends = ref('17:00')
const refused = ref<string | undefined>()

const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`
const minuteOf = (text: string): number => {
  const [h, m] = text.split(':').map(Number) as [number, number]
  return h * 60 + m
}
function show(): void {
  const [first] = current.value
  action.value = first?.action ?? usualVerdict(site.opened.plan, from.value, to.value)
  services.value = current.value.some((i) => i.service === 'any')
    ? []
    : current.value.map((i) => i.service)
  reason.value = first?.reason ?? ''
  isTimed.value = !!first?.hours
  if (!first?.hours) return
  days.value = [...first.hours.days]
  begins.value = clock(first.hours.fromMinute)
  ends.value = clock(first.hours.toMinute % 1440)
}
show()
watch([from, to], show)

const dayItems = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'].map(
  (title, i) => ({ title, value: i + 1 }),
)
const hosts = useStable(() =>
  site
    .model!.devices.filter((d) => d.addressing.segmentId)
    .map((d) => ({ title: d.name, value: d.id })),
)
const inside = computed(() => [
  ...Object.values(site.opened.plan.groups).map((g) => ({ title: `group ${g.name}`, value: g.id })),
  ...site.opened.model.segments.map((s) => ({ title: s.name, value: s.id })),
  ...hosts.value,
])
const sources = computed(() => [
  ...inside.value,
  { title: 'everywhere inside', value: ANYWHERE },
  { title: 'the internet', value: 'internet' },
])
const targets = computed(() => [
  ...inside.value,
  { title: placeName(site.opened.plan, MANAGED), value: MANAGED },
  { title: 'everywhere, the internet too', value: ANYWHERE },
  { title: 'the internet', value: 'internet' },
])

function state(): void {
  // What is stated of the pair now goes, and may be called the same again.
  const taken = {
    has: (id: string): boolean =>
      isIdTaken(site.opened.plan, id) && !current.value.some((i) => i.id === id),
  }
  const hours = isTimed.value
    ? {
        days: [...days.value].sort((a, b) => a - b),
        fromMinute: minuteOf(begins.value),
        toMinute: minuteOf(ends.value) || 1440,
      }
    : null
  refused.value = site.edit('stateIntent', {
    id: idFor(`int ${from.value} ${to.value}`, taken),
    from: from.value,
    to: to.value,
    services: services.value.length ? services.value : 'any',
    action: action.value,
    reason: reason.value,
    hours,
  })
  if (!refused.value) emit('close')
}
function clear(): void {
  site.edit('clearIntents', { from: from.value, to: to.value })
  emit('close')
}
</script>

<template>
  <form class="in-place" aria-label="State the pair" @submit.prevent="state">
    <b v-if="!open"
      >{{ placeName(site.opened.plan, pair.from) }} to {{ placeName(site.opened.plan, pair.to) }}</b
    >
    <div v-else class="fields">
      <v-autocomplete v-model="from" label="From" :items="sources" />
      <v-autocomplete v-model="to" label="To" :items="targets" />
    </div>
    <div class="fields mt-2">
      <v-select
        v-model="action"
        label="Verdict"
        :items="[
          { title: 'allow', value: 'allow' },
          { title: 'deny', value: 'deny' },
        ]"
      />
      <v-select
        v-model="services"
        label="Services"
        multiple
        placeholder="everything"
        persistent-placeholder
        :items="
          Object.values(site.opened.plan.services).map((s) => ({
            title: `${s.name}${s.ports.length ? ` (${s.protocol} ${portsInWords(s.ports)})` : ''}`,
            value: s.id,
          }))
        "
        ><template #selection="{ item, index }"
          >{{ index ? ', ' : '' }}{{ site.opened.plan.services[item.value]?.name }}</template
        ></v-select
      >
      <v-select
        v-model="isTimed"
        label="When"
        :items="[
          { title: 'always', value: false },
          { title: 'at hours of the week', value: true },
        ]"
      />
      <v-text-field v-model="reason" label="Why" maxlength="200" />
    </div>
    <div v-if="isTimed" class="fields mt-2">
      <v-select v-model="days" label="Days on which it begins" multiple :items="dayItems"
        ><template #selection="{ index }"
          ><span v-if="index === 0">{{ daysWords(days) }}</span></template
        ></v-select
      >
      <v-text-field v-model="begins" label="From (site's clock)" type="time" required />
      <v-text-field
        v-model="ends"
        label="Until"
        type="time"
        required
        :hint="ends <= begins && ends !== '00:00' ? 'of the next day' : ''"
        persistent-hint
      />
    </div>
    <div class="row mt-2">
      <v-btn type="submit" color="primary">State it</v-btn
      ><v-btn v-if="current.length || !open" variant="text" @click="clear"
        >Leave it to the default</v-btn
      ><v-btn variant="text" @click="emit('close')">Not now</v-btn>
    </div>
    <Refusal :says="refused" />
  </form>
</template>
