<script setup lang="ts">
import { inPlan } from '@mast/core/plan'
const site = useSite()
const a = ref<string | null>(null)
const b = ref<string | null>(null)
const lengthM = ref('5')
const refused = ref<string | undefined>()
const asked = ref(false)
/** Thousands of sockets are only listed once somebody looks for one. */
const free = useStable(() =>
  !asked.value
    ? []
    : site.opened.model.devices.flatMap((d) =>
        site
          .model!.portsOf(d.id)
          .filter(
            (p) =>
              !site.opened.model.linkAt(p.id) &&
              site.opened.model.profilePortOf(p.id).role !== 'wan' &&
              !d.wirelessNetworkId,
          )
          .map((p) => ({ title: site.opened.model.portName(p.id), value: p.id })),
      ),
)
const deviceOf = (portId: string | null): string | undefined =>
  portId ? site.opened.plan.ports[portId]?.deviceId : undefined
const others = computed(() => free.value.filter((p) => deviceOf(p.value) !== deviceOf(a.value)))
function plug(): void {
  const [from, to] = [a.value, b.value]
  if (!from || !to) return
  const optical = [from, to].every((p) => site.opened.model.profilePortOf(p).medium === 'optical')
  const id = `cable-${from}-${to}`.toLowerCase().slice(0, 64)
  refused.value = site.edit('addLink', {
    id,
    a: from,
    b: to,
    medium: optical ? 'fibre' : 'copper',
    lengthM: Number(lengthM.value),
  })
  if (refused.value) return
  fill(from, to)
  a.value = null
  b.value = null
}
/**
 * A new cable usually carries what its far end needs: to a host its own segment untagged, to a
 * device the management untagged and the rest tagged.
 */
function fill(from: string, to: string): void {
  const model = site.opened.model
  const ends = [from, to].map((p) => inPlan(site.opened.plan.ports, p))
  const host = ends
    .map((p) => inPlan(site.opened.plan.devices, p.deviceId))
    .find((d) => model.profileOf(d.id).vlan === 'none')
  const managed = ends
    .filter((p) => model.profileOf(p.deviceId).vlan === 'managed')
    .map((p) => p.id)
  if (managed.length === 0) return
  if (host) {
    if (host.addressing.segmentId)
      site.edit('setUntagged', { segmentId: host.addressing.segmentId, portIds: managed })
    return
  }
  const management = model.segments.find((s) => s.purpose === 'management') ?? model.segments[0]
  if (!management) return
  site.edit('setUntagged', { segmentId: management.id, portIds: managed })
  if (managed.length === 2)
    for (const s of model.segments)
      if (s.id !== management.id) site.edit('addTag', { segmentId: s.id, portIds: managed })
}
</script>

<template>
  <form class="row no-print new-cable" aria-label="New cable" @submit.prevent="plug">
    <InTurns>
      <v-autocomplete
        v-model="a"
        label="From port"
        :items="free"
        @focus="asked = true"
        variant="outlined"
        density="compact"
        hide-details
        class="port"
      />
      <v-autocomplete
        v-model="b"
        label="To port"
        :items="others"
        @focus="asked = true"
        variant="outlined"
        density="compact"
        hide-details
        class="port"
      />
      <v-text-field
        v-model="lengthM"
        label="Length"
        type="number"
        min="0.1"
        step="0.1"
        suffix="m"
        class="length"
      />
      <v-btn type="submit" color="primary" :disabled="!a || !b">Plug in</v-btn>
      <Refusal :says="refused" />
    </InTurns>
  </form>
</template>

<style scoped>
.new-cable {
  margin: 8px 0;
}
.port {
  min-width: 220px;
  max-width: 300px;
}
.length {
  max-width: 110px;
}
</style>
