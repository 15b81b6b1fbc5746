<script setup lang="ts">
/** The sheet and its margin. */
import type { Sheet } from '@mast/core/findings'
import type { FieldSheet } from '@mast/core/field'
import { stops, type StopId } from '~/composables/stops'

const props = defineProps<{ stop: StopId; question: string; sheet?: Sheet | FieldSheet }>()
const site = useSite()
const stop = computed(() => stops.find((s) => s.id === props.stop)!)
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

useHead(() => ({ title: `${stop.value.name} · ${site.plan?.site.name ?? 'Able Mast'}` }))
</script>

<template>
  <div class="desk" :class="{ single: !props.sheet && !$slots.margin }">
    <main class="sheet" :aria-busy="morePieces">
      <div class="row spread">
        <div>
          <h1>{{ stop.name }}</h1>
          <p class="question faint">{{ props.question }}</p>
        </div>
        <div class="row no-print"><slot name="tools" /></div>
      </div>
      <ShellPieces v-if="site.plan && !leaving"
        ><ShellConflicts /><slot /><FormatsExchange :sheet="props.stop"
      /></ShellPieces>
      <p v-else-if="!leaving" class="faint">Fetching the sheet ...</p>
      <ShellTitleBlock :title="stop.name" :number="stop.number" />
    </main>
    <ShellSheetMargin
      v-if="margin && !leaving && (props.sheet || $slots.margin)"
      :sheet="props.sheet ?? null"
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
