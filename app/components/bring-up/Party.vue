<script setup lang="ts">
/** Who is there today, who holds this device, and who calls whom. */
import { handOversOf, type Schedule, type Step } from '@mast/core/bringup'
import { formatDuration } from '@mast/core/words'

const props = defineProps<{
  steps: readonly Step[]
  schedule: Schedule
  done: ReadonlySet<string>
}>()
const site = useSite()
const { people, setCount, nameOf } = useDayPeople(site.opened.id)
const rename = (person: number, name: string): void => {
  people.value = {
    ...people.value,
    names: people.value.names.map((n, i) => (i === person ? name.slice(0, 40) : n)),
  }
}
const title = computed(() => new Map(props.steps.map((s) => [s.id, s.title])))
const calls = computed(() =>
  handOversOf(props.steps, props.schedule).filter(
    (c) => !c.nextIds.every((id) => props.done.has(id)),
  ),
)
</script>

<template>
  <details class="party keep">
    <summary>
      {{ people.names.length === 1 ? 'One person' : `${people.names.length} people` }}:
      {{ people.names.map((_, i) => nameOf(i)).join(', ') }}
    </summary>
    <div class="row">
      <v-select
        :model-value="people.names.length"
        label="People"
        :items="Array.from({ length: PEOPLE_MOST }, (_, i) => i + 1)"
        style="max-width: 100px"
        @update:model-value="setCount"
      />
      <v-text-field
        v-for="(n, i) in people.names"
        :key="i"
        :model-value="n"
        :label="`Person ${i + 1}`"
        style="max-width: 150px"
        @update:model-value="rename(i, String($event ?? ''))"
      />
      <v-select
        v-if="people.names.length > 1"
        :model-value="people.own"
        label="This device is held by"
        clearable
        :items="people.names.map((_, value) => ({ title: nameOf(value), value }))"
        style="max-width: 220px"
        @update:model-value="people = { ...people, own: $event ?? null }"
      />
    </div>
    <template v-if="calls.length">
      <h3>Calls</h3>
      <ul>
        <li v-for="c in calls" :key="`${c.doneId}${c.from}${c.to}`">
          <span class="mono faint">{{ formatDuration(c.atSeconds) }}</span>
          {{ nameOf(c.from) }} calls {{ nameOf(c.to) }}: “{{ title.get(c.doneId) }}” is done, “{{
            title.get(c.nextIds[0]!)
          }}”{{ c.nextIds.length > 1 ? ` and ${c.nextIds.length - 1} more` : '' }} can begin.
        </li>
      </ul>
    </template>
    <p v-else-if="people.names.length > 1" class="faint">Nobody has to call anybody.</p>
    <p v-if="schedule.aloneSeconds" class="mark cautions wrap">
      <ShellStateShape kind="cautions" />{{ formatDuration(schedule.aloneSeconds) }} of the work is
      for two: nobody goes up alone. Bring somebody along for it.
    </p>
  </details>
</template>

<style scoped>
.party {
  margin-bottom: 10px;
}
h3 {
  font-size: 13px;
  margin: 6px 0 2px;
}
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
