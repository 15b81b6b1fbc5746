<script setup lang="ts">
/** How the lamp of a device speaks: colour, rhythm, the state it stands for, and what to do. */
import { isGroup, lightSchema, rhythmWords, type Light, type Profile } from '@mast/core/plan'

const props = defineProps<{
  profile: Profile
  change: (changes: Partial<Profile>) => string | undefined
}>()
const chosen = ref<number | null>(null)
const refused = ref<string | undefined>()
const put = (lights: Light[]): string | undefined => (refused.value = props.change({ lights }))
const set = (i: number, changes: Partial<Light>): string | undefined =>
  put(props.profile.lights.map((l, n) => (n === i ? { ...l, ...changes } : l)))
const states = lightSchema.shape.state.options
const unsaid = computed(() =>
  states.filter((s) => !props.profile.lights.some((l) => l.state === s)),
)
function add(): void {
  const at = props.profile.lights.length
  if (
    !put([
      ...props.profile.lights,
      {
        colour: 'white',
        rhythm: 'slow',
        state: unsaid.value[0] ?? 'fault',
        meaning: 'What it means, and what to do.',
      },
    ])
  )
    chosen.value = at
}
function remove(i: number): void {
  if (!put(props.profile.lights.filter((_, n) => n !== i))) chosen.value = null
}
const colours = ['white', 'teal', 'amber', { title: 'dark', value: 'off' }]
const EVEN = ['steady', 'slow', 'double', 'fast', 'none'] as const
const rhythms = [
  ...EVEN.map((value) => ({ title: rhythmWords(value), value: value as string })),
  { title: 'a group of signals', value: '.' },
]
</script>

<template>
  <section aria-label="Lamp of the profile">
    <div class="row spread">
      <h3>Lamp</h3>
      <v-btn size="small" @click="add">Add a signal</v-btn>
    </div>
    <p v-if="profile.lights.length === 0" class="faint">
      It has none, or nobody wrote down what it says.
    </p>
    <table v-else class="plain">
      <thead>
        <tr>
          <th>Looks</th>
          <th>State</th>
          <th>Means</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(l, i) in profile.lights" :key="i">
          <tr
            :class="{ selected: chosen === i }"
            tabindex="0"
            @click="chosen = i"
            @keydown.enter="chosen = i"
          >
            <td><BringUpLamp :light="l" /></td>
            <td>{{ l.state.replace('-', ' ') }}</td>
            <td class="meaning">{{ l.meaning }}</td>
          </tr>
          <tr v-if="chosen === i">
            <td colspan="3" class="form">
              <div class="fields">
                <InTurns>
                  <v-select
                    label="Colour"
                    :model-value="l.colour"
                    :items="colours"
                    @update:model-value="(colour) => set(i, { colour })"
                  />
                  <v-select
                    label="Rhythm"
                    :model-value="isGroup(l.rhythm) ? '.' : l.rhythm"
                    :items="rhythms"
                    @update:model-value="(rhythm) => set(i, { rhythm })"
                  />
                  <FieldsEditField
                    v-if="isGroup(l.rhythm)"
                    label="Signals, short as . and long as -"
                    :value="l.rhythm"
                    :save="(rhythm) => set(i, { rhythm })"
                  />
                  <v-select
                    label="State"
                    :model-value="l.state"
                    :items="[...states].map((value) => ({ title: value.replace('-', ' '), value }))"
                    @update:model-value="(state) => set(i, { state })"
                  />
                  <FieldsEditField
                    label="Means"
                    :value="l.meaning"
                    :save="(meaning) => set(i, { meaning })"
                    class="wide"
                  />
                  <v-btn variant="text" color="error" @click="remove(i)">Remove this signal</v-btn>
                </InTurns>
              </div>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <Refusal :says="refused" />
  </section>
</template>

<style scoped>
.form {
  height: auto;
  padding: 10px 0;
}
.wide {
  grid-column: span 2;
}
.meaning {
  padding-block: 5px;
}
</style>
