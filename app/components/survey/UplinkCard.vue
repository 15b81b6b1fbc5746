<script setup lang="ts">
/** What the provider hands off on one line: the gate that it keeps shut, and its facts. */
import { setSecret } from '@mast/api'
import type { HandOff, Uplink } from '@mast/core/plan'

const props = defineProps<{ uplink: Uplink; last: boolean }>()
const emit = defineEmits<{ close: [] }>()
const site = useSite()
const h = computed(() => props.uplink.handOff)
const record = (f: Partial<HandOff>): string | undefined =>
  site.edit('recordHandOff', { uplinkId: props.uplink.id, facts: f })
const number = (text: string): number | null => (text === '' ? null : Number(text))
const unknown = { title: 'not known yet', value: null }
const modes = [
  unknown,
  { title: 'automatic (DHCP)', value: 'automatic' },
  { title: 'fixed', value: 'fixed' },
  { title: 'PPPoE', value: 'pppoe' },
  { title: 'cellular', value: 'cellular' },
]
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
</script>

<template>
  <section
    class="handoff"
    :class="{ selected: site.selected === uplink.id || site.pointed.includes(uplink.id) }"
    :aria-label="`Hand-off of ${uplink.name}`"
  >
    <SurveyGate :uplink="uplink" />
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
          @update:model-value="(mode) => record({ mode })"
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
          <SurveyTagFact :hand-off="h" :record="record" />
          <FieldsEditField
            label="MTU"
            type="number"
            :value="h.mtu"
            suffix="octets"
            :hint="
              h.mode === 'pppoe' && h.mtu === null
                ? 'usually 1492 under PPPoE (RFC 2516); ask'
                : undefined
            "
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
        <SurveyTheirLanFact :hand-off="h" :record="record" />
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
        <SurveySixFact :hand-off="h" :record="record" />
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
        <SurveyCapFact :hand-off="h" :record="record" />
        <FieldsEditField
          label="Used in the order"
          type="number"
          hint="0 first"
          :value="uplink.rank"
          :save="(t) => site.edit('changeUplink', { id: uplink.id, changes: { rank: Number(t) } })"
          mono
        />
        <v-btn variant="text" class="no-print justify-self" @click="emit('close')">Close</v-btn>
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
.justify-self {
  justify-self: start;
}
</style>
