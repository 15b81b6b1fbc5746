<script setup lang="ts" generic="T extends { readonly id: string }">
/**
 * The table of all sheets: sorted by its headings, filtered, grouped, several rows chosen at once,
 * all by keyboard. What is opened of a row is filled in under it.
 */
import { columnText, inOrder, type Column } from './column'

const props = defineProps<{
  rows: readonly T[]
  columns: readonly Column<T>[]
  /** What it lists, in the plural: `devices`. */
  what: string
  /** Columns that rows can be grouped by. */
  groups?: readonly string[]
  /** The row whose form is open. */
  open?: string | null
  /** Rows that something else points at. */
  hot?: readonly string[]
}>()
const emit = defineEmits<{ open: [id: string] }>()
const slots = defineSlots<{
  /** Under the row that is open. */
  form?(of: { row: T }): unknown
  /** What can be done with the rows that are chosen. */
  chosen?(of: { ids: readonly string[]; clear: () => void }): unknown
  [cell: `cell-${string}`]: (of: { row: T }) => unknown
}>()

const STEP = 24
/** What comes at first; the others follow in a turn of their own. */
const FIRST = 8
/** So many are seen at a glance, without looking for any. */
const FEW = 8
/** Words of so many letters are not broken over two lines. */
const SHORT = 24
const text = ref('')
const groupBy = ref<string | null>(null)
const chosen = ref<string[]>([])
const count = ref(printing.value ? Infinity : FIRST)
onBeforeUnmount(
  takeTurn(() => {
    count.value = Math.max(count.value, STEP)
  }),
)
const items = computed(() =>
  props.rows.map((row) => ({
    id: row.id,
    row,
    ...Object.fromEntries(props.columns.map((c) => [c.key, c.value(row)])),
  })),
)
const found = computed(() => {
  const wanted = text.value.trim().toLowerCase()
  return wanted === ''
    ? items.value
    : items.value.filter((i) =>
        props.columns.some((c) => columnText(c, i.row).toLowerCase().includes(wanted)),
      )
})
/** The groups stand in rows of their own; the column of what they are grouped by would say it twice. */
const headers = computed(() => [
  ...(groupBy.value
    ? [{ key: 'data-table-group', title: '', sortable: false, headerProps: { class: 'd-none' } }]
    : []),
  ...props.columns
    .filter((c) => c.key !== groupBy.value && !c.isHidden)
    .map((c) => ({
      key: c.key,
      title: c.title,
      sortable: !c.isUnsorted,
      sort: inOrder,
      headerProps: { title: c.hint },
    })),
])
const grouping = computed(() =>
  groupBy.value ? [{ key: groupBy.value, order: 'asc' as const }] : [],
)
const groupItems = computed(() => [
  { title: 'as they are', value: null as string | null },
  ...props.columns
    .filter((c) => props.groups?.includes(c.key))
    .map((c) => ({ title: `by ${c.title.toLowerCase()}`, value: c.key })),
])
// A row that was removed is not chosen any more; one that is pointed at is shown.
watch(
  () => props.rows,
  (rows) => {
    if (chosen.value.length === 0) return
    const there = new Set(rows.map((r) => r.id))
    chosen.value = chosen.value.filter((id) => there.has(id))
  },
)
watch(
  () => [props.open, ...(props.hot ?? [])],
  (ids) => {
    if (ids.some((id) => props.rows.findIndex((r) => r.id === id) >= count.value))
      count.value = props.rows.length
  },
  { immediate: true },
)
watch(printing, (now) => {
  if (now) count.value = props.rows.length
})

const isMany = computed(() => props.rows.length > FEW || text.value !== '')
const columnOf = (key: string | null | undefined): Column<T> | undefined =>
  props.columns.find((c) => c.key === key)
/** Columns that say something of a row, and are shown. */
const said = computed(() => props.columns.filter((c) => !c.isUnsorted && !c.isHidden))
/** Enough to tell it from its neighbours. */
const shortWords = (row: T): string =>
  said.value
    .slice(0, 2)
    .map((c) => columnText(c, row))
    .join(' ')
const rowWords = (row: T): string =>
  props.columns
    .map((c) => columnText(c, row))
    .filter(Boolean)
    .join(' ')
const table = ref<HTMLElement | null>(null)
/** Up and down along the rows, Enter opens, Space chooses. */
function key(event: KeyboardEvent, id: string): void {
  if (event.target !== event.currentTarget) return
  const rows = [...(table.value?.querySelectorAll<HTMLElement>('tr[data-row]') ?? [])]
  const at = rows.findIndex((r) => r.dataset.row === id)
  if (event.key === 'ArrowDown') rows[at + 1]?.focus()
  else if (event.key === 'ArrowUp') rows[at - 1]?.focus()
  else if (event.key === 'Home') rows[0]?.focus()
  else if (event.key === 'End') rows.at(-1)?.focus()
  else if (event.key === 'Enter') emit('open', id)
  else if (event.key === ' ' && slots.chosen) toggle(id)
  else return
  event.preventDefault()
}
function toggle(id: string): void {
  chosen.value = chosen.value.includes(id)
    ? chosen.value.filter((x) => x !== id)
    : [...chosen.value, id]
}
</script>

<template>
  <div ref="table" class="data-table" :class="{ opens: slots.form }">
    <div v-if="isMany || chosen.length" class="row no-print bar">
      <v-text-field
        v-if="isMany"
        v-model="text"
        :label="`Filter ${what}`"
        clearable
        class="filter"
        @keydown.esc="text = ''"
      />
      <v-select
        v-if="isMany && groups?.length"
        v-model="groupBy"
        label="Grouped"
        :items="groupItems"
        class="filter"
      />
      <span v-if="text" class="faint" role="status">{{ found.length }} of {{ rows.length }}</span>
      <template v-if="chosen.length">
        <b>{{ chosen.length }} chosen</b>
        <slot
          name="chosen"
          :ids="chosen"
          :clear="
            () => {
              chosen = []
            }
          "
        />
        <v-btn size="small" variant="text" @click="chosen = []">None</v-btn>
      </template>
    </div>
    <v-data-table
      v-model="chosen"
      :headers="headers"
      :items="found"
      item-value="id"
      :group-by="grouping"
      open-all
      :show-select="!!slots.chosen"
      hide-default-footer
      :items-per-page="groupBy ? -1 : count"
      density="compact"
      class="plain"
    >
      <template #group-header="{ item, columns: all, toggleGroup, isGroupOpen }">
        <tr class="group">
          <td :colspan="all.length">
            <button type="button" :aria-expanded="isGroupOpen(item)" @click="toggleGroup(item)">
              {{ item.value || 'none' }} <span class="faint">{{ item.items.length }}</span>
            </button>
          </td>
        </tr>
      </template>
      <template #item="{ item, columns: all }">
        <tr
          :data-row="item.id"
          :class="{ selected: open === item.id || hot?.includes(item.id) }"
          tabindex="0"
          :aria-label="rowWords(item.row)"
          @click="emit('open', item.id)"
          @keydown="key($event, item.id)"
        >
          <td
            v-for="h in all.filter((x) => x.key !== 'data-table-group')"
            :key="h.key ?? ''"
            :class="{
              mono: columnOf(h.key)?.mono,
              choose: h.key === 'data-table-select',
              name: h.key === said[0]?.key,
              short: columnOf(h.key) && columnText(columnOf(h.key)!, item.row).length <= SHORT,
            }"
            :data-title="columnOf(h.key)?.title"
          >
            <input
              v-if="h.key === 'data-table-select'"
              type="checkbox"
              :checked="chosen.includes(item.id)"
              :aria-label="`Choose ${shortWords(item.row)}`"
              @click.stop="toggle(item.id)"
            />
            <slot v-else-if="columnOf(h.key)" :name="`cell-${h.key}`" :row="item.row">{{
              columnText(columnOf(h.key)!, item.row)
            }}</slot>
          </td>
        </tr>
        <tr v-if="slots.form && open === item.id" class="form-row">
          <td :colspan="all.length"><slot name="form" :row="item.row" /></td>
        </tr>
      </template>
      <template #no-data>Nothing of that text.</template>
    </v-data-table>
    <RowsMore
      v-if="!groupBy && count >= STEP"
      :rest="Math.max(0, found.length - count)"
      :what="what"
      @more="count += STEP"
    />
  </div>
</template>

<style scoped>
.bar {
  /* Room for the labels of its fields, which stand on their upper edge. */
  padding-top: 8px;
  margin-bottom: 4px;
}
.filter {
  min-width: 170px;
  max-width: 200px;
}
.data-table :deep(.v-table) {
  background: none;
  color: inherit;
}
.data-table :deep(th),
.data-table :deep(td) {
  height: 32px !important;
  padding: 2px 10px 2px 0 !important;
  font-size: 13.5px;
}
.data-table :deep(th) {
  font-family: var(--label);
  font-stretch: 87%;
  font-weight: 600 !important;
  border-bottom: 1px solid var(--ink) !important;
}
.data-table :deep(th .v-selection-control__wrapper),
.data-table :deep(th .v-selection-control__input) {
  width: 18px;
  height: 18px;
}
.short {
  white-space: nowrap;
}
.choose {
  width: 26px;
}
.choose input {
  accent-color: var(--ink);
  width: 15px;
  height: 15px;
}
.opens tr[data-row] {
  cursor: pointer;
}
tr[data-row]:focus-visible {
  outline: 2px solid var(--action);
  outline-offset: -2px;
}
.form-row td {
  height: auto;
}
.group button {
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  font-weight: 600;
  cursor: pointer;
  padding: 6px 0;
}
/* A phone has no room for columns: each row is a card of its own. */
@media (max-width: 600px) {
  .data-table :deep(thead) {
    display: none;
  }
  tr[data-row] {
    display: grid;
    grid-template-columns: auto 1fr;
    column-gap: 10px;
    border-bottom: 1px solid var(--hair);
    padding: 6px 0;
  }
  .data-table tr[data-row] td {
    grid-column: 1 / -1;
    display: flex;
    align-items: center;
    gap: 10px;
    height: auto !important;
    min-height: 26px;
    border: 0 !important;
    white-space: normal;
  }
  .data-table tr[data-row] td:empty {
    display: none;
  }
  .data-table tr[data-row] td.choose {
    grid-area: 1 / 1;
  }
  .data-table tr[data-row] td.name {
    grid-area: 1 / 2;
    font-weight: 600;
  }
  td[data-title]:not(.name)::before {
    content: attr(data-title);
    flex: 0 0 92px;
    font-family: var(--label);
    font-size: 12.5px;
    color: var(--faint);
  }
}
</style>
