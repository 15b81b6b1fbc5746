<script setup lang="ts">
/** The key that both ends share: with IKEv2 it is what they know each other by, else one lock more. */
import { setSecret } from '@mast/api'
import { useTunnels } from './useTunnels'

const site = useSite()
const field = useField()
const { tunnel, peer, changePeer } = useTunnels()
const refused = ref<string | undefined>()
const shown = ref<string | null>(null)
const isIke = computed(() => tunnel.value?.protocol === 'ikev2')
watch(
  () => peer.value?.peer.id,
  () => {
    refused.value = undefined
    shown.value = null
  },
)
/** As the protocol takes them: 32 octets in base64. */
const octets = (): string =>
  btoa(String.fromCharCode(...crypto.getRandomValues(new Uint8Array(32))))

/** Null has the server make one up. */
async function set(secret: string | null): Promise<string | undefined> {
  if (!peer.value) return undefined
  const { id, sharedKeyRef } = peer.value.peer
  const ref_ = sharedKeyRef || `shared-${id}`.slice(0, 64)
  try {
    await ask(setSecret, { params: { site: site.opened.id, ref: ref_ }, body: { secret } })
  } catch (error) {
    return errorText(error)
  }
  shown.value = null
  return sharedKeyRef ? undefined : changePeer(id, { sharedKeyRef: ref_ })
}
async function make(): Promise<void> {
  refused.value = await set(isIke.value ? null : octets())
}
async function show(): Promise<void> {
  try {
    shown.value = await field.secret(peer.value!.peer.sharedKeyRef)
  } catch (error) {
    refused.value = errorText(error)
  }
}
</script>

<template>
  <section v-if="tunnel && peer && tunnel.kind !== 'provider'" aria-label="Shared key">
    <p class="faint">
      {{
        peer.peer.sharedKeyRef && peer.peer.siteId
          ? `${peer.peer.name} and this site have shared a key since they were joined; it is in both vaults.`
          : peer.peer.sharedKeyRef
            ? `${peer.peer.name} and this end share a key; it is in the vault.`
            : isIke
              ? `${peer.peer.name} and this end share no key yet: without one nothing comes up.`
              : 'No shared key. One more lock for each peer is optional; it goes into the file.'
      }}
    </p>
    <!-- Another key at one end alone would part two sites that were joined. -->
    <div v-if="!(peer.peer.sharedKeyRef && peer.peer.siteId)" class="row no-print">
      <v-btn size="small" @click="make">{{
        peer.peer.sharedKeyRef ? 'Make a new shared key' : 'Make a shared key'
      }}</v-btn>
      <template v-if="isIke">
        <v-btn v-if="peer.peer.sharedKeyRef && !shown" size="small" @click="show">Show it</v-btn>
        <FieldsKeyField :save="(t) => set(t)" />
      </template>
      <v-btn
        v-if="peer.peer.sharedKeyRef && !isIke"
        size="small"
        variant="text"
        @click="refused = changePeer(peer.peer.id, { sharedKeyRef: '' })"
        >Without one</v-btn
      >
    </div>
    <p v-if="shown" class="mono" role="status">{{ shown }}</p>
    <Refusal :says="refused" />
  </section>
</template>
