<script setup lang="ts">
/** Find anything or do anything, by typing. */
import { inPlan } from '@mast/core/plan'
import { useTheme } from 'vuetify'
import { keyOf, sheets, type SheetId } from '@mast/core/sheets'
import { stopPath } from '~/composables/stops'
import { useWish, type Wish } from '~/composables/useWish'

interface Entry {
  readonly label: string
  readonly hint: string
  run(): unknown
}
/** What can be added from anywhere: its sheet opens with the form for it. */
const additions: readonly { label: string; stop: SheetId; wish: Wish }[] = [
  { label: 'Add a line', stop: 'survey', wish: 'line' },
  { label: 'Add a device', stop: 'survey', wish: 'device' },
  { label: 'Add a segment', stop: 'addresses', wish: 'segment' },
]
const wished = useWish()
const open = defineModel<boolean>({ required: true })
const site = useSite()
const theme = useTheme()
const text = ref('')
const at = ref(0)
watch(open, () => {
  text.value = ''
  at.value = 0
})
watch(text, () => {
  at.value = 0
})

const entries = computed<Entry[]>(() => {
  const list: Entry[] = [
    { label: 'All sites', hint: 'go', run: () => navigateTo('/') },
    { label: 'Account and sessions', hint: 'go', run: () => navigateTo('/account') },
    {
      label: 'Day or night theme',
      hint: 'do',
      run: () => theme.change(theme.global.name.value === 'night' ? 'day' : 'night'),
    },
  ]
  const { plan } = site
  if (!plan || !site.id) return list
  const go = (stop: SheetId, id: string) => async (): Promise<void> => {
    await navigateTo(stopPath(site.opened.id, stop))
    site.selected = id
  }
  return [
    ...sheets.map((s) => ({
      label: s.name,
      hint: `stop, key ${keyOf(s.id)}`,
      run: () => navigateTo(stopPath(site.opened.id, s.id)),
    })),
    { label: 'History of this site', hint: 'go', run: () => navigateTo(`/s/${site.id}/history`) },
    { label: 'People on this site', hint: 'go', run: () => navigateTo(`/s/${site.id}/people`) },
    ...additions.map(({ label, stop, wish }) => ({
      label,
      hint: 'do',
      run: async () => {
        await navigateTo(stopPath(site.opened.id, stop))
        wished.value = wish
      },
    })),
    { label: 'Undo', hint: 'do', run: () => site.undoLast() },
    { label: 'Redo', hint: 'do', run: () => site.redoLast() },
    { label: 'Print this sheet', hint: 'do', run: () => window.print() },
    ...Object.values(plan.devices).map((d) => ({
      label: d.name,
      hint: d.serial ?? inPlan(plan.profiles, d.profileId).name,
      run: go('wiring', d.id),
    })),
    ...Object.values(plan.segments).map((s) => ({
      label: s.name,
      hint: `VLAN ${s.vlanId} ${s.subnet ?? ''}`,
      run: go('addresses', s.id),
    })),
    ...Object.values(plan.wirelessNetworks).map((w) => ({
      label: w.name,
      hint: 'wireless network',
      run: go('wifi', w.id),
    })),
    ...list,
  ]
})
const found = computed(() => {
  const wanted = text.value.trim().toLowerCase()
  return entries.value
    .filter((e) => `${e.label} ${e.hint}`.toLowerCase().includes(wanted))
    .slice(0, 12)
})
function choose(entry: Entry | undefined): void {
  if (!entry) return
  open.value = false
  void entry.run()
}
function key(event: KeyboardEvent): void {
  if (event.key === 'ArrowDown') at.value = Math.min(at.value + 1, found.value.length - 1)
  else if (event.key === 'ArrowUp') at.value = Math.max(at.value - 1, 0)
  else if (event.key === 'Enter') choose(found.value[at.value])
  else return
  event.preventDefault()
}
</script>

<template>
  <v-dialog v-model="open" aria-label="Find or do">
    <v-card class="pa-3">
      <v-text-field
        v-model="text"
        autofocus
        label="Find a stop, a device, a segment, an address, or something to do"
        role="combobox"
        aria-expanded="true"
        aria-controls="found"
        :aria-activedescendant="`found-${at}`"
        @keydown="key"
      />
      <ul id="found" role="listbox" aria-label="Found">
        <li
          v-for="(e, i) in found"
          :id="`found-${i}`"
          :key="`${e.label}-${i}`"
          role="option"
          :aria-selected="i === at"
          :class="{ at: i === at }"
          @click="choose(e)"
          @mouseenter="at = i"
        >
          <span>{{ e.label }}</span><span class="mono faint">{{ e.hint }}</span>
        </li>
        <li v-if="found.length === 0" class="faint">
          Nothing of that name. Try a part of a name, a serial or a VLAN number.
        </li>
      </ul>
    </v-card>
  </v-dialog>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
}
li {
  display: flex;
  justify-content: space-between;
  padding: 6px 8px;
  cursor: pointer;
}
li.at {
  background: var(--selection);
}
</style>
