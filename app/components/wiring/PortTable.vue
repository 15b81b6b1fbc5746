<script setup lang="ts">
import { mdiFlashOutline } from '@mdi/js'
/**
 * What every port carries, as a table; the row that is chosen, or reached by the keyboard, has its
 * form. Of the selected device, or of all managed ones.
 */
import { editCall, inPlan, type Port } from '@mast/core/plan'
import { socketWords } from '@mast/core/topology'

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
const { shown, rest, more, reach } = useShownRows(() => ports.value)
watch(
  () => site.pointed,
  (ids) => {
    if (ids[0]) reach(ports.value.findIndex((p) => p.id === ids[0]))
  },
)
const rows = computed(() =>
  shown.value.map((port) => ({
    port,
    d: inPlan(site.opened.plan.devices, port.deviceId),
    profile: model.value.profilePortOf(port.id),
    peer: model.value.peerOf(port.id),
    link: model.value.linkAt(port.id),
    managed: model.value.profileOf(port.deviceId).vlan === 'managed',
  })),
)
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
const setUntagged = (portId: string, segmentId: string | null): void =>
  void setTimeout(() => site.edit('setUntagged', { segmentId, portIds: [portId] }))
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
      <table class="plain">
        <thead>
          <tr>
            <th>Device</th>
            <th>Port</th>
            <th>Leads to</th>
            <th>Untagged</th>
            <th>Tagged</th>
            <th>Length</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="r in rows"
            :key="r.port.id"
            :class="{
              selected:
                site.selected === r.port.id ||
                site.pointed.includes(r.port.id) ||
                opened === r.port.id,
            }"
            tabindex="0"
            @click="opened = r.port.id"
            @focus="opened = r.port.id"
          >
            <td>{{ r.d.name }}</td>
            <td class="mono">
              {{ r.port.name
              }}<v-icon
                v-if="r.profile.poeOutType"
                :icon="mdiFlashOutline"
                size="14"
                class="faint"
                title="Feeds power"
              />
            </td>
            <td>{{ r.peer ? model.portName(r.peer.id) : (uplinkAt(r.port.id) ?? '') }}</td>
            <template v-if="!r.managed || r.profile.role !== 'lan'"
              ><td class="faint">
                {{ r.profile.role === 'wan' ? 'provider side' : 'as it comes' }}
              </td>
              <td
            /></template>
            <template v-else-if="opened === r.port.id">
              <td class="choice">
                <v-select
                  variant="plain"
                  :aria-label="`Untagged on ${model.portName(r.port.id)}`"
                  :model-value="r.port.untaggedSegmentId"
                  :items="untagged"
                  @update:model-value="(segmentId) => setUntagged(r.port.id, segmentId)"
                />
              </td>
              <td class="choice">
                <v-select
                  variant="plain"
                  multiple
                  :aria-label="`Tagged on ${model.portName(r.port.id)}`"
                  :model-value="r.port.taggedSegmentIds"
                  :items="taggable"
                  placeholder="none"
                  @update:model-value="(w) => setTags(r.port.id, r.port.taggedSegmentIds, w)"
                  ><template #selection="{ item, index }"
                    ><span class="mono"
                      >{{ index ? ', ' : ''
                      }}{{ site.opened.plan.segments[item.value]?.vlanId }}</span
                    ></template
                  ></v-select
                >
              </td>
            </template>
            <template v-else
              ><td class="choice">{{ segmentWords(r.port.untaggedSegmentId) }}</td>
              <td class="choice mono tags">{{ tagWords(r.port) }}</td></template
            >
            <td class="length">
              <template v-if="r.link"
                ><FieldsEditField
                  v-if="opened === r.port.id"
                  label=""
                  :aria-label="`Length of the cable at ${model.portName(r.port.id)}`"
                  type="number"
                  suffix="m"
                  :value="r.link.lengthM"
                  :save="
                    (t) =>
                      site.edit('changeLink', { id: r.link!.id, changes: { lengthM: Number(t) } })
                  "
                  mono
                /><span v-else class="mono">{{ r.link.lengthM }} m</span></template
              >
            </td>
            <td>
              <v-btn
                v-if="r.link && opened === r.port.id"
                size="small"
                variant="text"
                @click="site.edit('removeLink', { id: r.link.id })"
                >Unplug</v-btn
              ><v-btn
                v-else-if="
                  r.profile.role === 'wan' && !uplinkAt(r.port.id) && model.lines.length > 0
                "
                size="small"
                variant="text"
                @click="lineTo(r.port.id)"
                >{{ lines[0] ? `${lines[0].name} goes here` : 'Line goes here' }}</v-btn
              >
              <span
                v-if="r.profile.role === 'wan' && socketWords(model, r.port.id)"
                class="faint"
                >{{ socketWords(model, r.port.id) }}</span
              >
            </td>
          </tr>
        </tbody>
      </table>
      <RowsMore :rest="rest" what="ports" @more="more" />
    </div>
  </section>
</template>

<style scoped>
.choice {
  min-width: 140px;
}
.length {
  width: 120px;
}
.tags {
  max-width: 300px;
  overflow-wrap: anywhere;
}
td :deep(.v-field__input) {
  padding-top: 2px;
  padding-bottom: 2px;
  min-height: 30px;
}
</style>
