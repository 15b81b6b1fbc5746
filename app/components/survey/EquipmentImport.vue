<script setup lang="ts">
/**
 * An equipment list read in: which column is what, what of it can be imported, what cannot and why;
 * nothing happens before it is told to.
 */
import { editCall } from '@mast/core/plan'
import {
  decodeText,
  equipmentColumns,
  readEquipmentCsv,
  type EquipmentColumn,
  type EquipmentCsv,
  type Mapping,
} from '@mast/core/formats'

const props = defineProps<{ file: File }>()
const emit = defineEmits<{ close: [] }>()
const BATCH = 2000
const site = useSite()
const text = ref<string | null>(null)
const broken = ref<string | undefined>()
const chosen = ref<Mapping<EquipmentColumn> | undefined>()
const read = computed<EquipmentCsv | null>(() =>
  text.value === null ? null : readEquipmentCsv(text.value, site.opened.plan, chosen.value),
)
const good = computed(() => read.value?.rows.flatMap((r) => (r.device ? [r.device] : [])) ?? [])
const refused = ref<string | undefined>()
const done = ref<{ before: number; imported: number; after: number } | null>(null)
watchLatest(
  () => props.file,
  async (file, isLast) => {
    text.value = null
    chosen.value = undefined
    done.value = null
    const decoded = decodeText(new Uint8Array(await file.arrayBuffer()))
    if (!isLast()) return
    broken.value =
      'problem' in decoded
        ? `line ${decoded.problem.line}, column ${decoded.problem.column}: ${decoded.problem.reason}`
        : undefined
    if ('text' in decoded) text.value = decoded.text
  },
)
const headings = computed(() => [
  { title: 'not in the file', value: -1 },
  ...(read.value?.header?.cells.map((c, value) => ({
    title: c.trim() || `column ${value + 1}`,
    value,
  })) ?? []),
])
const choose = (column: EquipmentColumn, at: number): void => {
  chosen.value = { ...read.value!.mapping, [column]: at }
}
const { shown, rest, more } = useShownRows(() => read.value?.problems ?? [])

function bringIn(): void {
  const before = Object.keys(site.opened.plan.devices).length
  const list = good.value
  const parts = Array.from({ length: Math.ceil(list.length / BATCH) }, (_, i) =>
    editCall('addDevices', { devices: list.slice(i * BATCH, (i + 1) * BATCH) }),
  )
  refused.value = site.mend(`Add ${list.length} devices from ${props.file.name}`, parts)
  if (refused.value) return
  done.value = {
    before,
    imported: list.length,
    after: Object.keys(site.opened.plan.devices).length,
  }
  // A count that does not add up is never passed over (C-69).
  if (done.value.before + done.value.imported !== done.value.after)
    refused.value =
      `${done.value.before} and ${done.value.imported} do not make ${done.value.after}; look ` +
      'through the list'
  else if (read.value!.rows.length === list.length) emit('close')
}
</script>

<template>
  <div class="in-place" aria-label="What the file says">
    <p v-if="broken" class="mark blockers wrap" role="alert">{{ file.name }}, {{ broken }}</p>
    <template v-else-if="read">
      <p>
        <b>{{ file.name }}</b>: {{ good.length }} of {{ read.rows.length }} rows can be
        imported<template v-if="read.problems.length"
          >; {{ read.problems.length }}
          {{ read.problems.length === 1 ? 'remark' : 'remarks' }}</template
        >.
        <span class="faint"
          >{{ Object.keys(site.opened.plan.devices).length }} devices are there now;
          {{ Object.keys(site.opened.plan.devices).length + good.length }} afterwards.</span
        >
      </p>
      <details :open="read.leftOut.length > 0 || undefined">
        <summary>Which column is what</summary>
        <div class="fields">
          <v-select
            v-for="c in equipmentColumns"
            :key="c"
            :label="c"
            :model-value="read.mapping[c]"
            :items="headings"
            @update:model-value="(at) => choose(c, at)"
          />
        </div>
        <p v-if="read.leftOut.length" class="faint">
          Left out: {{ read.leftOut.map((l) => read!.header!.cells[l.column - 1]).join(', ') }}
        </p>
      </details>
      <ul v-if="read.problems.length">
        <li v-for="(p, i) in shown" :key="i" class="wrong">
          <span class="mono">line {{ p.line }}, column {{ p.column }}</span> {{ p.reason }}
        </li>
      </ul>
      <RowsMore :rest="rest" what="remarks" @more="more" />
      <table v-if="good.length" class="plain preview">
        <caption class="visually-hidden">
          The first rows as they would be imported
        </caption>
        <tbody>
          <tr v-for="d in good.slice(0, 4)" :key="d.id">
            <td>{{ d.name }}</td>
            <td>{{ d.profileId }}</td>
            <td class="mono">{{ d.serial }}</td>
            <td class="mono">{{ d.hardwareAddress }}</td>
          </tr>
        </tbody>
      </table>
      <div class="row">
        <v-btn color="primary" :disabled="good.length === 0 || done !== null" @click="bringIn"
          >Import {{ good.length }}</v-btn
        ><v-btn variant="text" @click="emit('close')">{{ done ? 'Done' : 'Leave it' }}</v-btn>
      </div>
      <p v-if="done" role="status">
        {{ done.before }} before, {{ done.imported }} imported, {{ done.after }} now;
        {{ read.rows.length - done.imported }} rows were left where they are.
      </p>
      <p v-if="refused" class="mark blockers wrap" role="alert">{{ refused }}</p>
    </template>
  </div>
</template>

<style scoped>
.wrong {
  color: var(--blocker);
}
summary {
  cursor: pointer;
  font-size: 13px;
}
.preview {
  margin: 6px 0;
}
ul {
  max-height: 220px;
  overflow-y: auto;
}
</style>
