<script setup lang="ts">
/** The margin of a sheet: its remarks, and what a sheet puts there itself. */
import { sheets, type SheetId } from '@mast/core/sheets'

const props = defineProps<{ sheet: SheetId | null }>()
const site = useSite()
const field = useField()
const mine = computed(() =>
  [...(site.analysis?.findings ?? []), ...field.findings].filter((f) => f.sheet === props.sheet),
)
const { shown, rest, more } = useShownRows(
  () => mine.value,
  () => 8,
)
/** Where there is nothing on the sheet, what to begin with. */
const start = computed(() => {
  const sheet = sheets.find((s) => s.id === props.sheet)
  return sheet && 'isOfPlan' in sheet && site.plan && !sheet.isBegun(site.plan) ? sheet.start : null
})
const log = computed(() => site.revisions.slice(0, 8))
</script>

<template>
  <aside class="margin" aria-label="Remarks">
    <slot />
    <section v-if="props.sheet" aria-live="polite">
      <h2>
        Remarks <span v-if="mine.length" class="faint">{{ mine.length }}</span>
      </h2>
      <Refusal :says="site.complaint" class="complaint" />
      <p v-if="!site.analysis" class="faint computing">Computing ...</p>
      <p v-else-if="mine.length === 0 && start" class="faint">Nothing to check yet: {{ start }}</p>
      <p v-else-if="mine.length === 0" class="mark clear">
        <ShellStateShape kind="clear" />Nothing to remark on this sheet.
      </p>
      <InTurns><ShellFindingCard v-for="f in shown" :key="f.id" :finding="f" /></InTurns>
      <RowsMore :rest="rest" what="remarks" @more="more" />
    </section>
    <section v-if="log.length" class="log no-print">
      <h2>Revisions</h2>
      <ol>
        <li v-for="r in log" :key="r.number">
          <span class="mono faint">{{ r.number }}</span> {{ r.summary }}
          <span class="faint">{{ timeText(r.at) }}</span>
        </li>
      </ol>
    </section>
  </aside>
</template>

<style scoped>
.margin {
  background: var(--paper);
  border-left: 1px solid var(--hair);
  padding: 12px 16px;
  overflow-y: auto;
}
.margin :deep(h2:first-child) {
  margin-top: 0;
}
.margin > :deep(* + *) {
  margin-top: 18px;
}
.complaint {
  white-space: normal;
}
.log ol {
  list-style: none;
  padding: 0;
  margin: 0;
  font-size: 12.5px;
}
.log li {
  padding: 2px 0;
  border-bottom: 1px solid var(--hair);
  overflow-wrap: anywhere;
}
</style>
