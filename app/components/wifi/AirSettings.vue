<script setup lang="ts">
/** What all access points of the site have in common. */
import { clockOf, minuteOf } from './minutes'

const site = useSite()
const wireless = computed(() => site.opened.plan.site.wireless)
const refused = ref<string | undefined>()
type Changes = Partial<typeof wireless.value>
const tell = (changes: Changes): string | undefined =>
  site.edit('changeSite', { wireless: changes })
const change = (changes: Changes): void => {
  refused.value = tell(changes)
}
function dark(text: string): string | undefined {
  if (text.trim() === '') return tell({ dark: null })
  const [fromMinute, toMinute] = text.split('-').map(minuteOf)
  return fromMinute !== undefined && toMinute !== undefined && fromMinute >= 0 && toMinute >= 0
    ? tell({ dark: { fromMinute, toMinute } })
    : 'two times of the day are needed, for example 22:00-06:00'
}
const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const dayItems = [
  { title: 'never', value: -2 },
  { title: 'every day', value: -1 },
  ...days.map((title, value) => ({ title, value })),
]
const restartDay = computed(() =>
  wireless.value.restart ? (wireless.value.restart.day ?? -1) : -2,
)
const setDay = (day: number): void =>
  change({
    restart:
      day === -2
        ? null
        : { day: day < 0 ? null : day, minute: wireless.value.restart?.minute ?? 240 },
  })
const setRestart = (text: string): string | undefined =>
  minuteOf(text) >= 0
    ? tell({ restart: { day: wireless.value.restart?.day ?? null, minute: minuteOf(text) } })
    : 'a time of the day is needed, for example 04:00'
</script>

<template>
  <section aria-label="All access points">
    <h2>All access points</h2>
    <div class="row">
      <v-select
        label="Power"
        :model-value="wireless.power"
        :items="[
          { title: 'as set: cells meet, and no more', value: 'low' },
          { title: 'all that is allowed', value: 'full' },
        ]"
        style="max-width: 300px"
        @update:model-value="(power) => change({ power })"
      />
      <FieldsEditField
        label="Lamps off (empty: never)"
        :value="
          wireless.dark
            ? `${clockOf(wireless.dark.fromMinute)}-${clockOf(wireless.dark.toMinute)}`
            : ''
        "
        :save="dark"
        mono
      />
      <v-select
        label="Restart"
        :model-value="restartDay"
        :items="dayItems"
        style="max-width: 160px"
        @update:model-value="setDay"
      />
      <FieldsEditField
        v-if="wireless.restart"
        label="at"
        :value="clockOf(wireless.restart.minute)"
        :save="setRestart"
        mono
      />
    </div>
    <p v-if="wireless.power === 'full'" class="faint">
      They shout further, and hear no better: a phone sends with some 14 dBm whatever the access
      point does, so at the edge people see a full signal and wait. Neighbours are disturbed as far
      as it is heard. Check with your regulator.
    </p>
    <Refusal :says="refused" />
  </section>
</template>
