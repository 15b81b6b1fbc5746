<script setup lang="ts">
import { editCall, inPlan, newId, type Device } from '@mast/core/plan'
import { readSecrets, setSecret } from '@mast/api'
import type { WirelessNetwork } from '@mast/core/plan'
import { carriageOf, isolationOf } from '@mast/core/topology'
import { strandOf } from '~/components/drawing/strands'
import type { Column } from '../rows/column'
import { useBulk } from '../rows/useBulk'

const site = useSite()
const field = useField()
const networks = computed(() => Object.values(site.opened.plan.wirelessNetworks))
const points = computed(() =>
  site.opened.model.devices.filter(
    (d) =>
      site.opened.model.profileOf(d.id).air.length > 0 &&
      site.opened.model.profileOf(d.id).kind === 'access-point',
  ),
)
const clients = computed(() =>
  site.opened.model.devices.filter(
    (d) =>
      site.opened.model.profileOf(d.id).kind === 'host' &&
      site.opened.model.profileOf(d.id).air.length > 0,
  ),
)
const choices = useStable(() => [
  { title: 'none', value: null },
  ...networks.value.map((w) => ({ title: w.name, value: w.id })),
])
const senders = useStable(() => points.value.map((p) => ({ title: p.name, value: p.id })))
const segments = useStable(() =>
  site.opened.model.segments.map((s) => ({ title: `${s.vlanId} ${s.name}`, value: s.id })),
)
const securities = [
  { title: 'WPA3', value: 'wpa3' },
  { title: 'WPA2 and WPA3', value: 'wpa2-wpa3' },
  { title: 'WPA2', value: 'wpa2' },
  { title: 'WPA and WPA2, as found', value: 'wpa-wpa2' },
  { title: 'WEP, as found', value: 'wep' },
  { title: 'open', value: 'open' },
]
const name = ref('')
const segmentId = ref<string | null>(null)
const refused = ref<string | undefined>()
const keys = ref<Record<string, string>>({})
const have = ref<Set<string>>(new Set())
async function readRefs(): Promise<void> {
  have.value = new Set(
    (await ask(readSecrets, { params: { site: site.opened.id } })).map((s) => s.ref),
  )
}
watch(
  () => site.id,
  (id) => {
    if (id) void readRefs()
  },
  { immediate: true },
)

async function add(): Promise<void> {
  const id = newId(site.opened.plan, name.value)
  const segment = site.opened.plan.segments[segmentId.value ?? '']
  if (!segment) {
    refused.value = 'choose the segment that its clients are in'
    return
  }
  refused.value = site.edit('addWirelessNetwork', {
    id,
    name: name.value,
    segmentId: segment.id,
    security: 'wpa2-wpa3',
    keyRef: `wifi-${id}`,
    clientIsolation: segment.purpose === 'guests',
    accessPointIds: points.value.map((p) => p.id),
  })
  if (refused.value) return
  name.value = ''
  await setKey(`wifi-${id}`, null)
}
async function setKey(ref_: string, secret: string | null): Promise<string | undefined> {
  try {
    await ask(setSecret, { params: { site: site.opened.id, ref: ref_ }, body: { secret } })
    Reflect.deleteProperty(keys.value, ref_)
    await readRefs()
    return undefined
  } catch (error) {
    return errorText(error)
  }
}
async function show(ref_: string): Promise<void> {
  keys.value = { ...keys.value, [ref_]: await field.secret(ref_) }
}
const change = (w: WirelessNetwork, changes: Partial<WirelessNetwork>): string | undefined =>
  site.edit('changeWirelessNetwork', { id: w.id, changes })
const lands = (w: WirelessNetwork, apId: string): boolean =>
  carriageOf(site.opened.model, w.segmentId)
    .at(apId)
    .some((a) => a.inside === inPlan(site.opened.plan.segments, w.segmentId).vlanId)
/** How far clients are kept apart beyond one access point, where there are several. */
function apart(w: WirelessNetwork): string | null {
  if (!w.clientIsolation || w.accessPointIds.length < 2) return null
  const { ports, leaks } = isolationOf(site.opened.model)
  const leak = leaks.find((l) => l.segmentId === w.segmentId)
  const name = (id: string): string => site.opened.plan.devices[id]?.name ?? id
  if (leak)
    return (
      `Kept apart on each access point, but not between ${name(leak.between[0])} and ` +
      `${name(leak.between[1])}: see the remark.`
    )
  const { vlanId } = inPlan(site.opened.plan.segments, w.segmentId)
  const kept = [...ports].filter(([, vlans]) => vlans.has(vlanId)).map(([id]) => id)
  const devices = [...new Set(kept.map((id) => name(inPlan(site.opened.plan.ports, id).deviceId)))]
  return kept.length === 0
    ? null
    : `Between access points too: ${kept.length} sockets of ${devices.join(', ')} do not hear ` +
        `each other in VLAN ${vlanId}.`
}
const chosenClient = ref<string | null>(null)
const clientColumns: readonly Column<Device>[] = [
  { key: 'name', title: 'Client', value: (d) => d.name },
  {
    key: 'network',
    title: 'Joins',
    value: (d) => site.opened.plan.wirelessNetworks[d.wirelessNetworkId ?? '']?.name ?? 'none',
  },
]
const bulk = useBulk('clients')
/** Who joins a network is in its segment. */
const join = (ids: readonly string[], wirelessNetworkId: string | null): boolean =>
  bulk.all('Join', ids, (id) => {
    const { addressing } = inPlan(site.opened.plan.devices, id)
    const segmentId = wirelessNetworkId
      ? inPlan(site.opened.plan.wirelessNetworks, wirelessNetworkId).segmentId
      : addressing.segmentId
    return editCall('changeDevice', {
      id,
      changes: { wirelessNetworkId, addressing: { ...addressing, segmentId } },
    })
  })
const rows = computed(() =>
  networks.value.flatMap((w) => w.accessPointIds.map((ap) => ({ w, ap, ok: lands(w, ap) }))),
)
const colour = (id: string): string => strandOf(site.opened.model.segments, id).colour
const dash = (id: string): string => strandOf(site.opened.model.segments, id).dash
</script>

<template>
  <div>
    <InTurns>
      <svg
        v-if="rows.length"
        data-drawing
        :viewBox="`0 0 760 ${rows.length * 44 + 12}`"
        class="strands"
        role="img"
        aria-label="Each network from its access point to its segment; the same facts stand below"
      >
        <g
          v-for="(r, i) in rows"
          :key="`${r.w.id}-${r.ap}`"
          :transform="`translate(0 ${i * 44 + 8})`"
        >
          <path d="M14 26 a12 12 0 0 1 24 0 M19 26 a7 7 0 0 1 14 0" class="air" />
          <circle cx="26" cy="26" r="2" />
          <text x="50" y="17" class="name">{{ r.w.name }}</text>
          <text x="50" y="31" class="small">{{ site.opened.plan.devices[r.ap]?.name }}</text>
          <path
            v-if="r.ok"
            d="M250 20 H540"
            class="strand"
            :style="{ stroke: colour(r.w.segmentId), strokeDasharray: dash(r.w.segmentId) }"
          />
          <template v-else>
            <path
              d="M250 20 H370"
              class="strand"
              :style="{ stroke: colour(r.w.segmentId), strokeDasharray: dash(r.w.segmentId) }"
            />
            <path d="M376 14 l12 12 M376 26 l12 -12" class="break" />
            <text x="396" y="24" class="break-text">does not arrive; see Wiring</text>
          </template>
          <text x="552" y="24" class="name">{{ site.opened.model.vlanName(r.w.segmentId) }}</text>
        </g>
      </svg>
      <p v-if="networks.length === 0" class="lead">
        No wireless network yet. Give it a name that tells nothing of the organisation or the
        equipment, and the segment its clients land in.
      </p>
      <section
        v-for="w in networks"
        :key="w.id"
        class="in-place"
        :class="{ hot: site.pointed.includes(w.id) || site.selected === w.id }"
        :aria-label="w.name"
      >
        <div class="fields">
          <InTurns>
            <FieldsEditField
              label="Name on the air"
              :value="w.name"
              :save="(t) => change(w, { name: t })"
            />
            <v-select
              label="Lands in"
              :model-value="w.segmentId"
              :items="segments"
              @update:model-value="(s) => change(w, { segmentId: s })"
            />
            <v-select
              label="Security"
              :model-value="w.security"
              :items="securities"
              @update:model-value="(security) => change(w, { security })"
            />
            <v-select
              label="Sent by"
              multiple
              :model-value="w.accessPointIds"
              :items="senders"
              @update:model-value="(accessPointIds) => change(w, { accessPointIds })"
            />
            <v-checkbox
              label="Keep clients apart"
              :model-value="w.clientIsolation"
              @update:model-value="(v) => change(w, { clientIsolation: v === true })"
            />
          </InTurns>
        </div>
        <p v-if="apart(w)" class="faint">{{ apart(w) }}</p>
        <div class="row mt-2">
          <template v-if="w.security !== 'open' && w.keyRef">
            <span>Key</span>
            <span v-if="keys[w.keyRef]" class="mono key">{{ keys[w.keyRef] }}</span><span
              v-else
              class="mono faint"
              >{{ have.has(w.keyRef) ? 'in the vault' : 'none yet' }}</span
            >
            <v-btn v-if="have.has(w.keyRef) && !keys[w.keyRef]" size="small" @click="show(w.keyRef)"
              >Show</v-btn
            >
            <v-btn size="small" @click="setKey(w.keyRef, null)">Make a new one</v-btn>
            <FieldsKeyField :save="(t) => setKey(w.keyRef!, t)" />
          </template>
          <template v-if="w.portal?.passwordRef">
            <span>Password of the page</span>
            <span class="mono faint">{{
              keys[w.portal.passwordRef] ??
              (have.has(w.portal.passwordRef) ? 'in the vault' : 'none yet')
            }}</span>
            <v-btn size="small" @click="setKey(w.portal.passwordRef, null)">Make a new one</v-btn>
          </template>
          <v-btn
            size="small"
            variant="text"
            color="error"
            @click="site.edit('removeWirelessNetwork', { id: w.id })"
            >Remove the network</v-btn
          >
        </div>
        <LazyWifiKeyCard v-if="w.keyRef && keys[w.keyRef]" :network="w" :secret="keys[w.keyRef]!" />
        <LazyWifiNetworkSettings :network="w" />
      </section>
      <form class="row no-print" @submit.prevent="add">
        <v-text-field v-model="name" label="New network" style="max-width: 240px" /><v-select
          v-model="segmentId"
          label="Lands in segment"
          :items="segments"
          style="max-width: 220px"
        />
        <v-btn type="submit" color="primary" :disabled="!name.trim() || !segmentId"
          >Add network</v-btn
        >
        <Refusal :says="refused" />
      </form>
      <LazyWifiAirSettings v-if="points.length" />
      <section v-if="clients.length && networks.length">
        <h2>Who joins what</h2>
        <LazyRowsDataTable
          :rows="clients"
          :columns="clientColumns"
          what="clients"
          :groups="['network']"
          :open="chosenClient"
          :hot="site.pointed"
          @open="(id: string) => (chosenClient = id)"
        >
          <template #chosen="{ ids }"
            ><RowsBulkSelect
              label="Network"
              :items="choices"
              @choose="(networkId) => join(ids, networkId)"
          /></template>
          <template #form="{ row: c }">
            <div class="in-place fields">
              <v-select
                :label="`Network of ${c.name}`"
                :model-value="c.wirelessNetworkId"
                :items="choices"
                @update:model-value="(networkId: string | null) => join([c.id], networkId)"
              />
            </div>
          </template>
        </LazyRowsDataTable>
        <Refusal :says="bulk.refused.value" />
      </section>
    </InTurns>
  </div>
</template>

<style scoped>
.strands {
  width: 100%;
  max-width: 860px;
  font-family: var(--text);
}
.air {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
circle {
  fill: var(--ink);
}
.strand {
  fill: none;
  stroke-width: 3;
}
.name {
  font-size: 14px;
  font-weight: 600;
  fill: var(--ink);
}
.small {
  font-size: 12px;
  fill: var(--faint);
}
.break {
  stroke: var(--blocker);
  stroke-width: 2;
}
.break-text {
  fill: var(--blocker);
  font-size: 12.5px;
}
.hot {
  background: var(--selection);
}
.key {
  border: 1px solid var(--hair);
  padding: 2px 8px;
  font-size: 15px;
}
</style>
