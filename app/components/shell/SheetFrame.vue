<script setup lang="ts">
/** Strip, line, sheet and margin around one stop. */
import type { Sheet } from '@mast/core/findings'
import { stopPath, stops, type StopId } from '~/composables/stops'

const props = defineProps<{ stop: StopId; question: string; sheet?: Sheet }>()
const route = useRoute()
const site = useSite()
const field = useField()
const siteId = computed(() => String(route.params.site))
const stop = computed(() => stops.find((s) => s.id === props.stop)!)
const finding = ref(false)
const failed = ref<string | null>(null)

watch(siteId, async (id) => {
  failed.value = null
  try {
    await site.open(id)
    await field.follow()
  } catch (error) { failed.value = errorText(error) }
}, { immediate: true })
useHead(() => ({ title: `${stop.value.name} · ${site.plan?.site.name ?? 'Able Mast'}` }))

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement
  const typing = target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName)
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !typing) {
    event.preventDefault()
    if (event.shiftKey) site.redoLast()
    else site.undoLast()
    return
  }
  if (typing || event.ctrlKey || event.metaKey || event.altKey) return
  const at = stops.findIndex((s) => s.id === props.stop)
  const next = event.key === ']' ? stops[at + 1] : event.key === '[' ? stops[at - 1] : /^[1-9]$/.test(event.key) ? stops[Number(event.key) - 1] : undefined
  if (next) void navigateTo(stopPath(siteId.value, next.id))
  else if (event.key === '/') { event.preventDefault(); finding.value = true }
  else if (event.key === 'Escape') site.selected = null
})
</script>

<template>
  <div class="frame">
    <ShellTopStrip @find="finding = true" />
    <ShellStopLine :site-id="siteId" :current="props.stop" />
    <p v-if="failed" class="failed" role="alert">{{ failed }} <NuxtLink to="/">All sites</NuxtLink></p>
    <div v-else class="desk" :class="{ single: !props.sheet && !$slots.margin }">
      <main class="sheet">
        <div class="row spread">
          <div><h1>{{ stop.name }}</h1><p class="question faint">{{ props.question }}</p></div>
          <div class="row no-print"><slot name="tools" /></div>
        </div>
        <template v-if="site.plan && site.id === siteId"><slot /></template>
        <p v-else class="faint">Fetching the sheet ...</p>
        <ShellTitleBlock :title="stop.name" :number="stop.number" />
      </main>
      <ShellSheetMargin v-if="props.sheet || $slots.margin" :sheet="props.sheet ?? null"><slot name="margin" /></ShellSheetMargin>
    </div>
    <ShellFindDialog v-model="finding" />
  </div>
</template>

<style scoped>
.frame { display: flex; flex-direction: column; height: 100vh; height: 100dvh; }
.desk { flex: 1; min-height: 0; display: grid; grid-template-columns: minmax(0, 1fr) 320px; background: var(--desk); }
.desk.single { grid-template-columns: minmax(0, 1fr); }
.sheet { background: var(--paper); margin: 12px; padding: 16px 20px; border: 1px solid var(--hair); overflow: auto; box-shadow: 0 1px 3px rgba(0, 0, 0, 0.12); }
.question { margin: 0 0 12px; }
.failed { padding: 24px; }
@media (max-width: 900px) {
  .frame { height: auto; min-height: 100dvh; }
  .desk, .desk.single { display: block; }
  .sheet { margin: 0; padding: 12px; border: 0; }
  .desk :deep(.margin) { border-left: 0; border-top: 1px solid var(--hair); }
}
</style>
