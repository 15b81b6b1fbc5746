<script setup lang="ts">
/** The sheet and its margin. */
import { sheets, type SheetId } from '@mast/core/sheets'

const props = defineProps<{ stop: SheetId; hasRemarks?: boolean }>()
const site = useSite()
const number = computed(() => sheets.findIndex((s) => s.id === props.stop) + 1)
const here = computed(() => sheets[number.value - 1]!)
/** The margin comes after the sheet. */
const margin = ref(false)
onBeforeUnmount(
  takeTurn(() => {
    margin.value = true
  }),
)

/** A sheet is taken down before the next is put up, each in a task of its own. */
const leaving = ref(false)
onBeforeRouteLeave(async () => {
  leaving.value = true
  await nextTick()
  await new Promise((resolve) => setTimeout(resolve))
})
// Where the next does not come after all, this one stands again.
const router = useRouter()
onBeforeUnmount(
  router.afterEach((_to, _from, failure) => {
    if (failure) leaving.value = false
  }),
)
onBeforeUnmount(
  router.onError(() => {
    leaving.value = false
  }),
)

useHead(() => ({ title: `${here.value.name} · ${site.plan?.site.name ?? 'Able Mast'}` }))
</script>

<template>
  <div class="desk" :class="{ single: !props.hasRemarks && !$slots.margin }">
    <main class="sheet" :aria-busy="morePieces">
      <div class="row spread">
        <div>
          <h1>{{ here.name }}</h1>
          <p class="question faint">{{ here.question }}</p>
        </div>
        <div class="row no-print"><slot name="tools" /></div>
      </div>
      <InTurns v-if="site.plan && !leaving"
        ><ShellConflicts /><slot /><LazyFormatsExchange :sheet="props.stop"
      /></InTurns>
      <p v-else-if="!leaving" class="faint">Fetching the sheet ...</p>
      <ShellTitleBlock :title="here.name" :number="number" />
    </main>
    <ShellSheetMargin
      v-if="margin && !leaving && (props.hasRemarks || $slots.margin)"
      :sheet="props.hasRemarks ? props.stop : null"
      ><slot name="margin"
    /></ShellSheetMargin>
  </div>
</template>

<style scoped>
.desk {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  background: var(--desk);
}
.desk.single {
  grid-template-columns: minmax(0, 1fr);
}
.sheet {
  background: var(--paper);
  margin: 12px;
  padding: 16px 20px;
  border: 1px solid var(--hair);
  overflow: auto;
  box-shadow: 0 1px 3px rgba(0, 0, 0, 0.12);
}
.question {
  margin: 0 0 12px;
}
@media (max-width: 900px) {
  .desk,
  .desk.single {
    display: block;
  }
  .sheet {
    margin: 0;
    padding: 12px;
    border: 0;
  }
  .desk :deep(.margin) {
    border-left: 0;
    border-top: 1px solid var(--hair);
  }
}
</style>
