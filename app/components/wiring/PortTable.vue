<script setup lang="ts">
import { mdiFlashOutline } from '@mdi/js'
/**
 * What every port carries, as a table; the row that is chosen, or reached by the keyboard, has its
 * form. Of the selected device, or of all managed ones.
 */
import { editCall, inPlan, type Port } from '@mast/core/plan'
import { socketWords } from '@mast/core/topology'
import { airWords } from '@mast/core/bridges/link'
import type { Column } from '../rows/column'
import { useBulk } from '../rows/useBulk'

const site = useSite()
const model = computed(() => site.opened.model)
const chosen = computed(() => {
  const id = site.selected
  if (!id) return null
  return (
    site.opened.plan.devices[id] ??
    site.opened.plan.devices[site.opened.plan.ports[id]?.deviceId ?? ''] ??
    null
  )
})
const devices = computed(() =>
  chosen.value
    ? [chosen.value]
    : model.value.devices.filter((d) => model.value.profileOf(d.id).vlan === 'managed'),
)
const ports = computed(() =>
  devices.value.flatMap((d) =>
    model.value.portsOf(d.id).filter((p) => chosen.value || model.value.linkAt(p.id)),
  ),
)
const { refused, make } = useBulk('ports')
const isManaged = (p: Port): boolean => model.value.profileOf(p.deviceId).vlan === 'managed'
/** Whether what it carries is for the plan to say. */
const isOurs = (p: Port): boolean => isManaged(p) && model.value.profilePortOf(p.id).role === 'lan'
const roleOf = (p: Port): string => model.value.profilePortOf(p.id).role
const opened = ref<string | null>(null)
const segments = useStable(() =>
  model.value.segments.map((s) => ({ title: `${s.vlanId} ${s.name}`, value: s.id })),
)
const untagged = computed(() => [{ title: 'nothing', value: null }, ...segments.value])
const taggable = useStable(() =>
  segments.value.filter(
    (s) => s.value !== site.opened.plan.ports[opened.value ?? '']?.untaggedSegmentId,
  ),
)
const hot = computed(() => [...site.pointed, ...(site.selected ? [site.selected] : [])])
const uplinkAt = (portId: string): string | undefined =>
  Object.values(site.opened.plan.uplinks).find((u) => u.portId === portId)?.name
const segmentWords = (id: string | null): string => {
  const s = id ? site.opened.plan.segments[id] : undefined
  return s ? `${s.vlanId} ${s.name}` : 'nothing'
}
const tagWords = (port: Port): string =>
  port.taggedSegmentIds
    .map((id) => site.opened.plan.segments[id]?.vlanId ?? 0)
    .sort((a, b) => a - b)
    .join(', ') || 'none'
/** In a task of its own: closing a list of many choices is one by itself. */
const setUntagged = (portIds: readonly string[], segmentId: string | null): void =>
  void setTimeout(() => {
    const edit = editCall('setUntagged', { segmentId, portIds: [...portIds] })
    return portIds.length === 1
      ? site.edit(edit.name, edit.args)
      : make('Change', portIds.length, [edit])
  })
/** Of several, those that the plan says it of. */
const ours = (ids: readonly string[]): string[] =>
  ids.filter((id) => isOurs(inPlan(site.opened.plan.ports, id)))
const tagAll = (name: 'addTag' | 'removeTag', ids: readonly string[], segmentId: string): boolean =>
  make('Change the tags of', ids.length, [editCall(name, { segmentId, portIds: ours(ids) })])
function setTags(portId: string, now: readonly string[], wanted: readonly string[]): void {
  const edits = [
    ...wanted
      .filter((id) => !now.includes(id))
      .map((segmentId) => editCall('addTag', { segmentId, portIds: [portId] })),
    ...now
      .filter((id) => !wanted.includes(id))
      .map((segmentId) => editCall('removeTag', { segmentId, portIds: [portId] })),
  ]
  if (edits.length > 0) site.mend(`Change the tags of ${model.value.portName(portId)}`, edits)
}
const setLength = (portId: string, text: string): string | undefined =>
  site.edit('changeLink', {
    id: model.value.linkAt(portId)!.id,
    changes: { lengthM: Number(text) },
  })
const peerWords = (p: Port): string => {
  const peer = model.value.peerOf(p.id)
  return peer ? model.value.portName(peer.id) : (uplinkAt(p.id) ?? '')
}
const socketNotes = (p: Port): string =>
  roleOf(p) === 'wan'
    ? (socketWords(model.value, p.id) ?? '')
    : (airWords(model.value, model.value.linkAt(p.id)) ?? '')
const columns: readonly Column<Port>[] = [
  {
    key: 'device',
    title: 'Device',
    value: (p) => inPlan(site.opened.plan.devices, p.deviceId).name,
  },
  { key: 'port', title: 'Port', value: (p) => p.name, mono: true },
  { key: 'peer', title: 'Leads to', value: peerWords },
  {
    key: 'untagged',
    title: 'Untagged',
    value: (p) =>
      isOurs(p)
        ? segmentWords(p.untaggedSegmentId)
        : roleOf(p) === 'wan'
          ? 'provider side'
          : 'as it comes',
  },
  { key: 'tagged', title: 'Tagged', value: (p) => (isOurs(p) ? tagWords(p) : ''), mono: true },
  {
    key: 'length',
    title: 'Length',
    value: (p) => model.value.linkAt(p.id)?.lengthM ?? '',
    text: (p) => (model.value.linkAt(p.id) ? `${model.value.linkAt(p.id)!.lengthM} m` : ''),
    mono: true,
  },
  { key: 'notes', title: '', value: socketNotes, isUnsorted: true },
]
const lines = computed(() => Object.values(site.opened.plan.uplinks).filter((u) => !u.portId))
const lineTo = (portId: string): void => {
  const u = lines.value[0] ?? model.value.lines[0]
  if (u) site.edit('changeUplink', { id: u.id, changes: { portId } })
}
</script>

<template>
  <section aria-label="Ports">
    <div class="row spread">
      <h2>{{ chosen ? `Ports of ${chosen.name}` : 'Ports in use' }}</h2>
      <v-btn v-if="chosen" size="small" variant="text" @click="site.selected = null"
        >All ports in use</v-btn
      >
    </div>
    <div class="scroll-x">
      <LazyRowsDataTable
        :rows="ports"
        :columns="columns"
        what="ports"
        :groups="['device', 'untagged']"
        :open="opened"
        :hot="hot"
        @open="(id: string) => (opened = id)"
      >
        <template #cell-port="{ row: p }"
          >{{ p.name
          }}<v-icon
            v-if="model.profilePortOf(p.id).poeOutType"
            :icon="mdiFlashOutline"
            size="14"
            class="faint"
            title="Feeds power"
        /></template>
        <template #cell-notes="{ row: p }">
          <v-btn
            v-if="roleOf(p) === 'wan' && !uplinkAt(p.id) && model.lines.length > 0"
            size="small"
            variant="text"
            @click.stop="lineTo(p.id)"
            >{{ lines[0] ? `${lines[0].name} goes here` : 'Line goes here' }}</v-btn><span
            v-if="socketNotes(p)"
            class="faint"
            >{{ socketNotes(p) }}</span
          >
        </template>
        <template #chosen="{ ids }">
          <RowsBulkSelect
            label="Untagged"
            :items="untagged"
            @choose="(segmentId) => setUntagged(ours(ids), segmentId)"
          />
          <RowsBulkSelect
            label="Add the tag"
            :items="segments"
            @choose="(segmentId) => tagAll('addTag', ids, segmentId)"
          />
          <RowsBulkSelect
            label="Take the tag away"
            :items="segments"
            @choose="(segmentId) => tagAll('removeTag', ids, segmentId)"
          />
        </template>
        <template #form="{ row: p }">
          <div class="in-place fields">
            <template v-if="isOurs(p)">
              <v-select
                :label="`Untagged on ${model.portName(p.id)}`"
                :model-value="p.untaggedSegmentId"
                :items="untagged"
                @update:model-value="(segmentId: string | null) => setUntagged([p.id], segmentId)"
              />
              <v-select
                multiple
                :label="`Tagged on ${model.portName(p.id)}`"
                :model-value="p.taggedSegmentIds"
                :items="taggable"
                placeholder="none"
                @update:model-value="(w: string[]) => setTags(p.id, p.taggedSegmentIds, w)"
              />
            </template>
            <template v-if="model.linkAt(p.id)">
              <FieldsEditField
                :label="`Length of the cable at ${model.portName(p.id)}`"
                type="number"
                suffix="m"
                :value="model.linkAt(p.id)!.lengthM"
                :save="(t) => setLength(p.id, t)"
                mono
              />
              <v-btn
                variant="text"
                color="error"
                @click="site.edit('removeLink', { id: model.linkAt(p.id)!.id })"
                >Unplug</v-btn
              >
            </template>
            <p v-if="!isOurs(p) && !model.linkAt(p.id)" class="faint">
              Nothing to set here: the device passes on what comes.
            </p>
          </div>
        </template>
      </LazyRowsDataTable>
      <Refusal :says="refused" />
    </div>
  </section>
</template>
