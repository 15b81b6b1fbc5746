<script setup lang="ts">
import { setSecret } from '@mast/api'
import { gateFacts, mayUnplug } from '@mast/core/survey'
import type { HandOff, Uplink } from '@mast/core/plan'

const props = defineProps<{ uplink: Uplink; last: boolean }>()
const site = useSite()
const h = computed(() => props.uplink.handOff)
const facts = computed(() => gateFacts(props.uplink))
const known = computed(() => facts.value.filter((f) => f.known).length)
const open = computed(() => mayUnplug(props.uplink))
const record = (f: Partial<HandOff>): string | undefined =>
  site.edit('recordHandOff', { uplinkId: props.uplink.id, facts: f })
const number = (text: string): number | null => (text === '' ? null : Number(text))
const tagKind = computed(() =>
  h.value.vlan === null ? null : h.value.vlan === 'untagged' ? 'untagged' : 'tagged',
)
const lanKind = computed(() =>
  h.value.providerLan === null ? null : h.value.providerLan === 'none' ? 'none' : 'known',
)
const sixKind = computed(() =>
  h.value.ipv6 === null ? null : h.value.ipv6 === 'none' ? 'none' : h.value.ipv6.mode,
)
const capKind = computed(() =>
  h.value.cap === null ? null : h.value.cap === 'none' ? 'none' : 'capped',
)
const unknown = { title: 'not known yet', value: null }
const modes = [
  unknown,
  { title: 'automatic (DHCP)', value: 'automatic' },
  { title: 'fixed', value: 'fixed' },
  { title: 'PPPoE', value: 'pppoe' },
  { title: 'cellular', value: 'cellular' },
]
function setMode(mode: HandOff['mode']): void {
  // What the standard says of a kind of line is filled in where nothing else is known; RFC 2516:
  // 1500 octets less 8 of PPPoE and PPP.
  record({ mode, ...(mode === 'pppoe' && h.value.mtu === null ? { mtu: 1492 } : {}) })
}
const setSix = (k: string | null): void =>
  void record({
    ipv6:
      k === null || k === 'none'
        ? k
        : { mode: k === 'fixed' ? k : 'delegated', length: 56, prefix: null },
  })
const setCap = (k: string | null): void =>
  void record({
    cap: k === 'capped' ? { gigabytes: 100, pricePerGb: 0 } : k === null ? null : 'none',
  })
const isWire = computed(() => h.value.mode !== 'cellular')
async function savePassword(secret: string): Promise<string | undefined> {
  const ref_ = `line-${props.uplink.id}`
  try {
    await ask(setSecret, { params: { site: site.opened.id, ref: ref_ }, body: { secret } })
    return record({ passwordRef: ref_ })
  } catch (error) {
    return errorText(error)
  }
}
function saveSix(text: string): string | undefined {
  const six = h.value.ipv6
  if (six === null || six === 'none') return undefined
  const refused = record({ ipv6: { ...six, prefix: text || null } })
  // The delegated prefix is the site's IPv6 space where it has none of its own yet.
  if (!refused && text && site.opened.plan.site.addressSpace6.length === 0)
    site.edit('setAddressSpace6', { addressSpace6: [text] })
  return refused
}
const title = computed(() =>
  open.value ? 'Gate open: the old line may be unplugged' : 'Gate shut: do not unplug the old line',
)
</script>

<template>
  <section
    class="handoff"
    :class="{ selected: site.selected === uplink.id || site.pointed.includes(uplink.id) }"
    :aria-label="`Hand-off of ${uplink.name}`"
  >
    <div class="gate keep" :class="{ open }" role="status">
      <svg width="120" height="68" viewBox="0 0 150 84" aria-hidden="true">
        <path d="M8 60 H58 M92 60 H142" stroke="currentColor" stroke-width="2" />
        <rect
          v-if="!open"
          x="60"
          y="14"
          width="30"
          height="52"
          fill="none"
          stroke="currentColor"
          stroke-width="2"
        />
        <path
          v-if="!open"
          d="M60 24 H90 M60 34 H90 M60 44 H90 M60 54 H90"
          stroke="currentColor"
          stroke-width="1"
        />
        <path
          v-else
          d="M60 60 H90 M60 66 V14 M90 66 V14 M60 14 L44 22 M90 14 L106 22"
          stroke="currentColor"
          stroke-width="2"
        />
        <text x="8" y="78" font-size="12" fill="currentColor">old line</text>
        <text x="98" y="78" font-size="12" fill="currentColor">gateway</text>
      </svg>
      <div>
        <p class="verdict label">{{ title }}</p>
        <p class="faint">{{ known }} of {{ facts.length }} facts of {{ uplink.name }} are known.</p>
        <ul v-if="!open" class="missing">
          <li v-for="f in facts.filter((x) => !x.known)" :key="f.key">
            <b>{{ f.label }}</b> <span class="faint">{{ f.where }}</span>
          </li>
        </ul>
      </div>
    </div>
    <div class="fields">
      <InTurns>
        <FieldsEditField
          label="Line"
          :value="uplink.name"
          :save="(name) => site.edit('changeUplink', { id: uplink.id, changes: { name } })"
        />
        <v-select
          label="Address given"
          :model-value="h.mode"
          :items="modes"
          @update:model-value="setMode"
        />
        <template v-if="h.mode === 'pppoe'">
          <FieldsEditField
            label="PPPoE account"
            :value="h.pppoeUser"
            :save="(t) => record({ pppoeUser: t || null })"
            mono
          />
          <div>
            <FieldsKeyField
              :label="h.passwordRef ? 'PPPoE password, in the vault' : 'PPPoE password'"
              :save="savePassword"
            />
          </div>
        </template>
        <FieldsEditField
          v-if="h.mode === 'cellular'"
          label="Access point name"
          :value="h.accessPointName"
          :save="(t) => record({ accessPointName: t || null })"
          mono
        />
        <template v-if="isWire">
          <v-select
            label="Tag on the hand-off"
            :model-value="tagKind"
            :items="[
              unknown,
              { title: 'no tag', value: 'untagged' },
              { title: 'a VLAN tag', value: 'tagged' },
            ]"
            @update:model-value="
              (k) => record({ vlan: k === 'tagged' ? 10 : k === 'untagged' ? k : null })
            "
          />
          <FieldsEditField
            v-if="tagKind === 'tagged'"
            label="VLAN tag"
            type="number"
            :value="h.vlan"
            :save="(t) => record({ vlan: number(t) })"
            mono
          />
          <FieldsEditField
            v-if="tagKind !== 'untagged'"
            label="802.1p priority"
            type="number"
            :value="h.priority"
            :save="(t) => record({ priority: number(t) })"
            mono
          />
          <FieldsEditField
            label="MTU"
            type="number"
            :value="h.mtu"
            suffix="octets"
            :save="(t) => record({ mtu: number(t) })"
            mono
          />
        </template>
        <v-select
          label="Kind of address"
          :model-value="h.addressKind"
          :items="[
            unknown,
            { title: 'public', value: 'public' },
            { title: 'carrier-grade NAT', value: 'carrier-grade' },
            { title: 'private, behind their router', value: 'private' },
          ]"
          @update:model-value="(addressKind) => record({ addressKind })"
        />
        <template v-if="h.mode === 'fixed'">
          <FieldsEditField
            label="Our address"
            :value="h.address"
            hint="with its length, 203.0.113.10/29"
            :save="(t) => record({ address: t || null })"
            mono
          />
          <FieldsEditField
            label="Their gateway"
            :value="h.gateway"
            :save="(t) => record({ gateway: t || null })"
            mono
          />
          <FieldsEditField
            label="Name servers"
            :value="h.nameServers.join(', ')"
            :save="(t) => record({ nameServers: t.split(/[,\s]+/).filter(Boolean) })"
            mono
          />
        </template>
        <v-select
          label="LAN on their router"
          :model-value="lanKind"
          :items="[
            unknown,
            { title: 'none, a plain modem', value: 'none' },
            { title: 'a subnet', value: 'known' },
          ]"
          @update:model-value="(k) => record({ providerLan: k === 'known' ? '192.168.1.0/24' : k })"
        />
        <FieldsEditField
          v-if="lanKind === 'known'"
          label="Their LAN"
          :value="h.providerLan"
          :save="(t) => record({ providerLan: t || null })"
          mono
        />
        <template v-if="isWire">
          <FieldsEditField
            label="Pinned hardware address"
            :value="h.pinnedHardwareAddress"
            hint="none, or the address"
            :save="(t) => record({ pinnedHardwareAddress: t ? t.toLowerCase() : null })"
            mono
          />
          <v-select
            label="Speed of the socket"
            :model-value="h.forcedSpeedMbps"
            :items="[
              unknown,
              { title: 'negotiated', value: 'negotiated' },
              ...[10, 100, 1000, 2500, 10000].map((value) => ({
                title: `forced to ${value} Mbit/s`,
                value,
              })),
            ]"
            @update:model-value="(forcedSpeedMbps) => record({ forcedSpeedMbps })"
          />
        </template>
        <v-select
          label="IPv6"
          :model-value="sixKind"
          :items="[
            unknown,
            { title: 'none', value: 'none' },
            { title: 'a delegated prefix', value: 'delegated' },
            { title: 'a fixed prefix', value: 'fixed' },
          ]"
          @update:model-value="setSix"
        />
        <template v-if="h.ipv6 !== null && h.ipv6 !== 'none'">
          <FieldsEditField
            label="Length of the prefix"
            type="number"
            :value="h.ipv6.length"
            :save="
              (t) =>
                record({ ipv6: { ...(h.ipv6 as object), length: Number(t) } as HandOff['ipv6'] })
            "
            mono
          />
          <FieldsEditField
            label="The prefix"
            :value="h.ipv6.prefix"
            hint="where it stays the same"
            :save="saveSix"
            mono
          />
        </template>
        <FieldsEditField
          label="Down"
          type="number"
          :value="h.downMbps"
          suffix="Mbit/s"
          :save="(t) => record({ downMbps: number(t) })"
          mono
        />
        <FieldsEditField
          label="Up"
          type="number"
          :value="h.upMbps"
          suffix="Mbit/s"
          :save="(t) => record({ upMbps: number(t) })"
          mono
        />
        <v-select
          label="Data"
          :model-value="capKind"
          :items="[
            unknown,
            { title: 'not limited', value: 'none' },
            { title: 'so much a month', value: 'capped' },
          ]"
          @update:model-value="setCap"
        />
        <template v-if="h.cap !== null && h.cap !== 'none'">
          <FieldsEditField
            label="Included a month"
            type="number"
            suffix="GB"
            :value="h.cap.gigabytes"
            :save="
              (t) =>
                record({
                  cap: {
                    ...(h.cap as { gigabytes: number; pricePerGb: number }),
                    gigabytes: Number(t),
                  },
                })
            "
            mono
          />
          <FieldsEditField
            label="Each GB beyond"
            type="number"
            :suffix="site.opened.plan.site.electricity?.currency ?? ''"
            :value="h.cap.pricePerGb"
            :save="
              (t) =>
                record({
                  cap: {
                    ...(h.cap as { gigabytes: number; pricePerGb: number }),
                    pricePerGb: Number(t),
                  },
                })
            "
            mono
          />
        </template>
        <FieldsEditField
          label="Used in the order"
          type="number"
          hint="0 first"
          :value="uplink.rank"
          :save="(t) => site.edit('changeUplink', { id: uplink.id, changes: { rank: Number(t) } })"
          mono
        />
        <v-btn
          v-if="!last"
          variant="text"
          color="error"
          class="no-print justify-self"
          @click="site.edit('removeUplink', { id: uplink.id })"
          >Remove this line</v-btn
        >
      </InTurns>
    </div>
  </section>
</template>

<style scoped>
.handoff {
  margin-bottom: 18px;
}
.handoff.selected {
  outline: 2px solid var(--selection);
  outline-offset: 4px;
}
.gate {
  display: flex;
  gap: 16px;
  align-items: flex-start;
  color: var(--blocker);
  border: 1px solid currentColor;
  padding: 8px 14px;
  margin-bottom: 12px;
}
.gate.open {
  color: var(--proven);
}
.gate p,
.gate ul {
  color: var(--ink);
  margin: 0;
}
.verdict {
  font-size: 16px;
  font-weight: 600;
  color: inherit !important;
}
.gate .faint {
  color: var(--faint);
}
.justify-self {
  justify-self: start;
}
.missing {
  padding-left: 18px;
  margin-top: 6px !important;
  font-size: 13.5px;
  columns: 2;
  column-gap: 24px;
}
@media (max-width: 600px) {
  .gate svg {
    display: none;
  }
  .missing {
    columns: 1;
  }
}
</style>
