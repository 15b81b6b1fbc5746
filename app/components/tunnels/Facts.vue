<script setup lang="ts">
/** What is said of the tunnel itself: where it ends, its network, port, name and keys. */
import type { Tunnel } from '@mast/core/plan'
import { makeTunnelKey, setSecret } from '@mast/api'
import { useTunnels } from './useTunnels'

const site = useSite()
const { tunnel, change } = useTunnels()
const refused = ref<string | undefined>()
const hosts = computed(() =>
  Object.values(site.opened.plan.devices)
    .filter((d) =>
      ['gateway', 'host', 'controller'].includes(site.opened.model.profileOf(d.id).kind),
    )
    .map((d) => ({ title: d.name, value: d.id })),
)
const through = computed(() => [
  ...site.opened.model.segments.map((s) => ({ title: s.name, value: s.id })),
  ...Object.values(site.opened.plan.devices)
    .filter((d) => site.opened.model.profileOf(d.id).kind === 'host')
    .map((d) => ({ title: d.name, value: d.id })),
])
const number = (text: string): number | null => (text.trim() === '' ? null : Number(text))
async function makeKey(): Promise<void> {
  if (!tunnel.value) return
  try {
    refused.value = change(
      await ask(makeTunnelKey, {
        params: { site: site.opened.id },
        body: { of: 'tunnel', id: tunnel.value.id },
      }),
    )
  } catch (error) {
    refused.value = errorText(error)
  }
}
const nameText = computed(() => {
  const d = tunnel.value?.dynamicName
  return d ? `${d.how}, ${d.server}, ${d.ttlSeconds} s` : ''
})
function saveName(text: string): string | undefined {
  if (text === '') return change({ dynamicName: null })
  const m = /^(update|web)\s*[,;]\s*(\S+)\s*[,;]\s*(\d+)\s*s?$/.exec(text)
  return m
    ? change({
        dynamicName: {
          how: m[1] as 'update' | 'web',
          server: m[2]!.replace(/[,;]$/, ''),
          ttlSeconds: Number(m[3]),
          keyRef: tunnel.value?.dynamicName?.keyRef ?? '',
        },
      })
    : 'expected how, the server and the time to live: update, ns.example.org, 300 s'
}
/** A key of RFC 8945, or the word that a web call is let in with. */
async function saveNameKey(secret: string): Promise<string | undefined> {
  const { id, dynamicName } = tunnel.value!
  const keyRef = dynamicName!.keyRef || `name-${id}`.slice(0, 64)
  try {
    await ask(setSecret, { params: { site: site.opened.id, ref: keyRef }, body: { secret } })
  } catch (error) {
    return errorText(error)
  }
  return dynamicName!.keyRef ? undefined : change({ dynamicName: { ...dynamicName!, keyRef } })
}
</script>

<template>
  <section v-if="tunnel" class="in-place" aria-label="The tunnel">
    <h2>The tunnel</h2>
    <div class="fields">
      <InTurns>
        <FieldsEditField label="Name" :value="tunnel.name" :save="(name) => change({ name })" />
        <v-select
          label="Ends on"
          :model-value="tunnel.hostDeviceId"
          :items="hosts"
          @update:model-value="(hostDeviceId: string) => (refused = change({ hostDeviceId }))"
        />
        <FieldsEditField
          :label="tunnel.kind === 'provider' ? 'Address given' : 'Network'"
          :value="tunnel.subnet"
          :save="(t) => change({ subnet: t === '' ? null : t })"
          mono
        />
        <template v-if="tunnel.kind !== 'provider'">
          <FieldsEditField
            label="Own address"
            hint="empty: the first"
            :value="tunnel.address"
            :save="(t) => change({ address: t === '' ? null : t })"
            mono
          />
          <FieldsEditField
            v-if="tunnel.protocol !== 'ikev2'"
            label="UDP port"
            type="number"
            :value="tunnel.listenPort"
            :save="(t) => change({ listenPort: number(t) })"
            mono
          />
          <FieldsEditField
            label="Found by the name"
            :value="tunnel.endpointName"
            :save="(t) => change({ endpointName: t === '' ? null : t })"
            mono
          />
          <FieldsEditField
            label="Who keeps the name right"
            :value="nameText"
            hint="update, ns.example.org, 300 s"
            :save="saveName"
            mono
          />
          <FieldsKeyField
            v-if="tunnel.dynamicName"
            :label="
              tunnel.dynamicName.keyRef
                ? 'What lets it be changed, anew'
                : 'What lets it be changed'
            "
            :save="saveNameKey"
          />
        </template>
        <FieldsEditField
          label="MTU"
          type="number"
          hint="empty: worked out"
          :value="tunnel.mtu"
          :save="(t) => change({ mtu: number(t) })"
          mono
        />
        <FieldsEditField
          v-if="tunnel.protocol !== 'ikev2'"
          label="Public key, made on the device"
          :value="tunnel.publicKey"
          :save="(t) => change({ publicKey: t === '' ? null : t, privateKeyRef: '' })"
          mono
        />
        <template v-if="tunnel.kind === 'provider'">
          <v-select
            label="Who goes through it"
            multiple
            :model-value="tunnel.throughIds"
            :items="through"
            @update:model-value="(throughIds: string[]) => (refused = change({ throughIds }))"
          />
          <v-select
            label="While it is down they are"
            :model-value="tunnel.whenDown"
            :items="['blocked', 'direct']"
            @update:model-value="(whenDown: Tunnel['whenDown']) => (refused = change({ whenDown }))"
          />
        </template>
      </InTurns>
    </div>
    <v-checkbox
      label="Switched on"
      :model-value="tunnel.isActive"
      @update:model-value="(v: boolean | null) => (refused = change({ isActive: v === true }))"
    />
    <v-checkbox
      v-if="tunnel.kind !== 'provider'"
      label="The provider's own router passes the port on"
      :model-value="tunnel.isPassedOn === true"
      @update:model-value="(v: boolean | null) => (refused = change({ isPassedOn: v === true }))"
    />
    <div class="row no-print">
      <v-btn v-if="tunnel.protocol !== 'ikev2'" @click="makeKey">{{
        tunnel.privateKeyRef ? 'Roll the key of this end' : 'Make the key of this end here'
      }}</v-btn>
      <v-btn
        variant="text"
        color="error"
        @click="refused = site.edit('removeTunnel', { id: tunnel.id })"
        >Remove the tunnel</v-btn
      >
    </div>
    <p v-if="tunnel.privateKeyRef" class="faint">
      Its private half lies sealed in the vault, and goes to the gateway with its configuration. A
      new one means new files for all of its peers.
    </p>
    <Refusal :says="refused" />
  </section>
</template>
