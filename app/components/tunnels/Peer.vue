<script setup lang="ts">
/** One peer: its facts, the file that it is given, and its handing out: once. */
import { peerDevices, type Peer } from '@mast/core/plan'
import { handOutPeer, makeTunnelKey, openHandOut } from '@mast/api'
import {
  foreignIkeFile,
  peerFile,
  transferOf,
  USUAL_PORT,
  writeTunnelFile,
} from '@mast/core/tunnels'
import { useTunnels } from './useTunnels'

const site = useSite()
const { tunnel, reckoned, peer, changePeer } = useTunnels()
const refused = ref<string | undefined>()
const link = ref<{ url: string; until: string } | null>(null)
const shown = ref<{ name: string; text: string; svg: string } | null>(null)
const isSure = ref(false)
const HOURS = 24
/** Until both ends scale it, a window is so large (RFC 7323 1.1). */
const WINDOW_OCTETS = 65_536
const gigabytes = ref('10')

watch(
  () => peer.value?.peer.id,
  () => {
    refused.value = undefined
    link.value = null
    shown.value = null
    isSure.value = false
  },
)
const file = computed(() =>
  reckoned.value && peer.value ? peerFile(reckoned.value, peer.value, {}) : null,
)
const isIke = computed(() => tunnel.value?.protocol === 'ikev2')
const foreign = computed(() =>
  isIke.value && reckoned.value && peer.value
    ? foreignIkeFile(reckoned.value, peer.value.peer)
    : null,
)
const preview = computed(() => (file.value ? writeTunnelFile(file.value.file) : ''))
/** What the vault has is not known here: of the keys only that they are to be there. */
const missing = computed(
  () => file.value?.missing.filter((m) => !m.startsWith('the private key')) ?? [],
)
const change = (changes: Partial<Peer>): string | undefined =>
  peer.value ? changePeer(peer.value.peer.id, changes) : undefined
async function makeKey(): Promise<void> {
  if (!peer.value) return
  const { id } = peer.value.peer
  try {
    const made = await ask(makeTunnelKey, {
      params: { site: site.opened.id },
      body: { of: 'peer', id },
    })
    refused.value = changePeer(id, { ...made, carriedBy: null })
  } catch (error) {
    refused.value = errorText(error)
  }
}
async function handOut(): Promise<{ token: string; expiresAt: string } | null> {
  if (!peer.value) return null
  refused.value = undefined
  try {
    return await ask(handOutPeer, {
      params: { site: site.opened.id },
      body: { peerId: peer.value.peer.id, hours: HOURS },
    })
  } catch (error) {
    refused.value = errorText(error)
    return null
  }
}
async function makeLink(): Promise<void> {
  const made = await handOut()
  if (!made) return
  link.value = {
    url: `${location.origin}/hand-out/${made.token}`,
    until: momentText(made.expiresAt),
  }
  change({ carriedBy: 'link' })
}
/** On this screen, for whoever stands beside it; gone with the next click. */
async function showOnce(): Promise<void> {
  const made = await handOut()
  if (!made) return
  try {
    const [{ name, text }, { default: QRCode }] = await Promise.all([
      ask(openHandOut, { params: { token: made.token } }),
      import('qrcode'),
    ])
    shown.value = {
      name,
      text,
      svg: `data:image/svg+xml,${encodeURIComponent(
        await QRCode.toString(text, { type: 'svg', margin: 2, errorCorrectionLevel: 'L' }),
      )}`,
    }
    change({ carriedBy: 'picture' })
  } catch (error) {
    refused.value = errorText(error)
  }
}
function save(): void {
  if (!shown.value || !peer.value) return
  saveAs(`${peer.value.peer.id}.conf`, 'text/plain', shown.value.text)
}
const transfer = computed(() => {
  const p = peer.value
  const gb = Number(gigabytes.value.replace(',', '.'))
  if (!p || !(gb > 0) || p.down.mbps === null) return null
  const t = transferOf(gb, p.down.mbps, p.peer.roundTripMs ?? 0, WINDOW_OCTETS)
  const minutes = t.seconds / 60
  return (
    `${minutes < 90 ? `${minutes.toFixed(0)} min` : `${(minutes / 60).toFixed(1)} h`} to it` +
    (t.isByWindow
      ? `: a window of 64 KiB and ${p.peer.roundTripMs} ms there and back let one connection have ` +
        `${t.mbps.toFixed(1)} Mbit/s`
      : `, at ${t.mbps.toFixed(1)} Mbit/s`)
  )
})
const listed = (text: string): string[] =>
  text
    .split(',')
    .map((x) => x.trim())
    .filter(Boolean)
const calledAt = computed(() => {
  const at = peer.value?.peer.endpoint
  return at ? `${at.host.includes(':') ? `[${at.host}]` : at.host}:${at.port}` : null
})
function saveCalled(text: string): string | undefined {
  if (text.trim() === '') return change({ endpoint: null })
  const m = /^(\[[^\]]+\]|[^:\s]+)(?::(\d{1,5}))?$/.exec(text.trim())
  return m
    ? change({
        endpoint: {
          host: m[1]!.replace(/^\[|\]$/g, ''),
          port: Number(m[2] ?? (isIke.value ? 500 : USUAL_PORT)),
        },
      })
    : 'expected a name or an address, and the port: shop.example.org:51820'
}
const number = (text: string): number | null =>
  text.trim() === '' ? null : Number(text.replace(',', '.'))
const asks = [
  'The right person has it in hand, seen or heard.',
  'Not by mail, not in a chat: they are kept for good.',
  'One file, one device; it is deleted from wherever it passed through.',
]
</script>

<template>
  <section v-if="tunnel && peer && reckoned" class="in-place" :aria-label="peer.peer.name">
    <h2>{{ peer.peer.name }}</h2>
    <div class="fields">
      <InTurns>
        <FieldsEditField label="Name" :value="peer.peer.name" :save="(name) => change({ name })" />
        <v-select
          label="Is a"
          :model-value="peer.peer.device"
          :items="[...peerDevices]"
          @update:model-value="(device: Peer['device']) => (refused = change({ device }))"
        />
        <FieldsEditField
          v-if="tunnel.kind !== 'provider'"
          label="Address in the tunnel"
          :value="peer.peer.address"
          :save="(t) => change({ address: t === '' ? null : t })"
          mono
        />
        <FieldsEditField
          label="Its line down"
          type="number"
          suffix="Mbit/s"
          :value="peer.peer.downMbps"
          :save="(t) => change({ downMbps: number(t) })"
          mono
        />
        <FieldsEditField
          label="Its line up"
          type="number"
          suffix="Mbit/s"
          :value="peer.peer.upMbps"
          :save="(t) => change({ upMbps: number(t) })"
          mono
        />
        <FieldsEditField
          label="There and back"
          type="number"
          suffix="ms"
          :value="peer.peer.roundTripMs"
          :save="(t) => change({ roundTripMs: number(t) })"
          mono
        />
        <FieldsEditField
          label="On devices"
          :value="peer.peer.usedOn.join(', ')"
          hint="one file, one device"
          :save="(t) => change({ usedOn: listed(t) })"
        />
        <FieldsEditField
          v-if="tunnel.kind === 'sites'"
          label="Networks behind it"
          :value="peer.peer.networks.join(', ')"
          :save="(t) => change({ networks: listed(t) })"
          mono
        />
        <FieldsEditField
          v-if="tunnel.kind !== 'people'"
          label="Called at"
          hint="empty: it calls"
          :value="calledAt"
          :save="saveCalled"
          mono
        />
        <FieldsEditField
          label="Keepalive"
          type="number"
          suffix="s"
          :hint="`empty: ${peer.keepaliveThere || peer.keepaliveHere || 'none'}`"
          :value="peer.peer.keepaliveSeconds"
          :save="(t) => change({ keepaliveSeconds: number(t) })"
          mono
        />
        <FieldsEditField
          v-if="!isIke"
          label="Public key, made on it"
          :value="peer.peer.publicKey"
          :save="
            (t) =>
              change({ publicKey: t === '' ? null : t, privateKeyRef: '', carriedBy: 'made-there' })
          "
          mono
        />
      </InTurns>
    </div>
    <TunnelsSharedKey />
    <v-checkbox
      v-if="tunnel.kind === 'people'"
      label="All of its traffic goes through, the internet as well"
      :model-value="peer.peer.isFull"
      @update:model-value="(v: boolean | null) => (refused = change({ isFull: v === true }))"
    />
    <p v-if="tunnel.kind === 'people' && !peer.peer.isFull" class="faint">
      Only what is here goes through. Other names are asked where it is, and other addresses, IPv6
      among them, are reached past the tunnel.
    </p>
    <div class="row transfer">
      <v-text-field v-model="gigabytes" label="How long for" suffix="GB" class="gb" />
      <p v-if="transfer" role="status">{{ transfer }}</p>
    </div>

    <template v-if="isIke">
      <template v-if="foreign">
        <h3>For the daemon there, without the key</h3>
        <pre class="mono file" aria-label="What the other end is set to">{{ foreign }}</pre>
        <v-btn
          class="no-print"
          size="small"
          @click="saveAs(`${peer.peer.id}.swanctl.conf`, 'text/plain', foreign)"
          >Save the file</v-btn
        >
      </template>
      <Refusal :says="refused" />
    </template>
    <template v-else-if="tunnel.kind !== 'provider'">
      <h3>Its file</h3>
      <pre class="mono file" aria-label="File of the peer, without its key">{{ preview }}</pre>
      <div v-if="missing.length" class="faint">Missing: {{ missing.join('; ') }}.</div>
      <div class="no-print">
        <div class="row handing">
          <v-btn v-if="!peer.peer.publicKey || !peer.peer.privateKeyRef" @click="makeKey"
            >Make its key here</v-btn
          >
          <v-btn v-else variant="text" @click="makeKey">Roll its key</v-btn>
        </div>
        <template v-if="peer.peer.privateKeyRef">
          <v-checkbox v-model="isSure" label="Handing it out once: the key leaves the vault" />
          <ul v-if="isSure" class="asks">
            <li v-for="a in asks" :key="a">{{ a }}</li>
          </ul>
          <div v-if="isSure" class="row handing">
            <v-btn color="primary" variant="flat" @click="showOnce">Show it here, once</v-btn>
            <v-btn @click="makeLink">Link that opens once, {{ HOURS }} h</v-btn>
          </div>
        </template>
      </div>
      <Refusal :says="refused" />
      <p v-if="link" role="status">
        Opens once, until {{ link.until }}: <span class="mono long">{{ link.url }}</span>
      </p>
      <figure v-if="shown" class="once" aria-label="File, shown once">
        <img :src="shown.svg" :alt="`Code with the file of ${peer.peer.name}`" />
        <figcaption>
          <b>{{ shown.name }}</b>
          <p>Scan it now; it is not shown again.</p>
          <div class="row">
            <v-btn @click="save">Save the file</v-btn>
            <v-btn variant="text" @click="shown = null">Put it away</v-btn>
          </div>
        </figcaption>
      </figure>
    </template>
    <Refusal v-else :says="refused" />
  </section>
</template>

<style scoped>
.file {
  border: 1px solid var(--hair);
  padding: 10px;
  font-size: 12.5px;
  overflow-x: auto;
}
.handing,
.transfer {
  flex-wrap: wrap;
  align-items: center;
}
.gb {
  max-width: 150px;
}
.once {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  margin: 10px 0;
}
.once img {
  width: min(320px, 100%);
  background: #fff;
}
.long {
  overflow-wrap: anywhere;
}
.asks {
  margin: 0 0 8px;
}
</style>
