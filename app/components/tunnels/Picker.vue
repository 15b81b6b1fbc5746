<script setup lang="ts">
/** Which tunnel; and new ones: for people, between sites, to a provider out of its file. */
import {
  editCall,
  freePeerAddress,
  freeTunnelNetwork,
  idFor,
  idsOf,
  newId,
  type EditCall,
  type Tunnel,
} from '@mast/core/plan'
import { setSecret } from '@mast/api'
import { freeTunnelPort, fromFile, readTunnelFile } from '@mast/core/tunnels'
import { useTunnels } from './useTunnels'

const site = useSite()
const { all, tunnel, chooseTunnel, choosePeer } = useTunnels()
const refused = ref<string | undefined>()
const problems = ref<readonly string[]>([])
const kept = ref<string | null>(null)
const joining = ref(false)
const names: Readonly<Record<Tunnel['kind'], string>> = {
  people: 'People on the road',
  sites: 'To another site',
  provider: 'To a provider',
}
function add(kind: Tunnel['kind'], more: object = {}, others: EditCall[] = []): string | null {
  const { plan, model } = site.opened
  if (!model.gateway) {
    refused.value = 'a tunnel ends on a gateway, or on a host behind it: list one in Survey'
    return null
  }
  const id = newId(plan, names[kind])
  refused.value = site.mend(`Add a tunnel: ${names[kind].toLowerCase()}`, [
    editCall('addTunnel', {
      id,
      name: names[kind],
      kind,
      hostDeviceId: model.gateway.id,
      subnet: kind === 'provider' ? null : freeTunnelNetwork(plan, null),
      listenPort: kind === 'provider' ? null : freeTunnelPort(plan),
      ...more,
    }),
    ...others,
  ])
  if (refused.value) return null
  chooseTunnel(id)
  return id
}
function addPeer(): void {
  if (!tunnel.value) return
  const { plan } = site.opened
  const name = tunnel.value.kind === 'sites' ? 'The other site' : 'New device'
  const id = newId(plan, name)
  refused.value = site.edit('addPeer', {
    id,
    name,
    tunnelId: tunnel.value.id,
    device: tunnel.value.kind === 'sites' ? 'gateway' : 'laptop',
    address: freePeerAddress(plan, tunnel.value.id),
  })
  if (!refused.value) choosePeer(id)
}
/**
 * Of a file all but the private key, which is typed into the device that has the tunnel; shared keys
 * go to the vault.
 */
async function readIn(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  if (!file) return
  const outcome = readTunnelFile(await file.text())
  input.value = ''
  problems.value = outcome.problems.map((p) => `line ${p.line}, column ${p.column}: ${p.reason}`)
  const read = outcome.tunnel
  kept.value =
    read && read.kept.length > 0
      ? `Not understood, and left to the file: ${read.kept.map((k) => `${k.name} (line ${k.line})`).join(', ')}.`
      : null
  if (!read || read.peers.length === 0) return
  const { kind, tunnel: facts, peers } = fromFile(read)
  const taken = idsOf(site.opened.plan)
  const fresh = (text: string): string => {
    const made = idFor(text, taken)
    taken.add(made)
    return made
  }
  const id = fresh(names[kind])
  const shared: { ref: string; secret: string }[] = []
  const added = add(
    kind,
    { ...facts, id, name: file.name.replace(/\.[a-z]+$/i, '').slice(0, 80) || names[kind] },
    peers.map((p, n) => {
      const peerId = fresh(`${id} ${p.name}`)
      const secret = read.peers[n]?.sharedKey
      const ref_ = secret ? `shared-${peerId}`.slice(0, 64) : ''
      if (secret) shared.push({ ref: ref_, secret })
      return editCall('addPeer', { ...p, id: peerId, tunnelId: id, sharedKeyRef: ref_ })
    }),
  )
  if (!added) return
  try {
    for (const { ref: name, secret } of shared)
      await ask(setSecret, { params: { site: site.opened.id, ref: name }, body: { secret } })
  } catch (error) {
    refused.value = `The shared key of the file was not kept: ${errorText(error)}`
  }
}
</script>

<template>
  <section aria-label="Tunnels">
    <p v-if="all.length === 0" class="lead">
      Nobody comes in from outside, and nothing leaves by a provider. Add a tunnel where somebody is
      to.
    </p>
    <div class="row">
      <div v-if="all.length" class="row" role="tablist" aria-label="Tunnel">
        <button
          v-for="t in all"
          :key="t.id"
          type="button"
          role="tab"
          class="tab"
          :class="{ on: t.id === tunnel?.id }"
          :aria-selected="t.id === tunnel?.id"
          @click="chooseTunnel(t.id)"
        >
          {{ t.name }}
        </button>
      </div>
    </div>
    <div class="row no-print adding">
      <v-btn v-if="tunnel" size="small" color="primary" variant="flat" @click="addPeer">{{
        tunnel.kind === 'sites' ? 'Add its other end' : 'Add a device'
      }}</v-btn>
      <v-btn size="small" @click="add('people')">Tunnel for people</v-btn>
      <v-btn size="small" @click="add('sites')">Tunnel between sites</v-btn>
      <v-btn size="small" @click="joining = true">Join own sites</v-btn>
      <v-btn size="small" @click="add('provider')">Tunnel to a provider</v-btn>
      <label class="pick"
        >Read a file
        <input type="file" accept=".conf,text/plain" class="visually-hidden" @change="readIn"
      /></label>
    </div>
    <Refusal :says="refused" />
    <ul v-if="problems.length" role="status">
      <li v-for="p in problems" :key="p">{{ p }}</li>
    </ul>
    <LazyTunnelsJoinSites v-if="joining" v-model="joining" />
    <p v-if="kept" class="faint" role="status">{{ kept }}</p>
  </section>
</template>

<style scoped>
.adding {
  margin-top: 8px;
  flex-wrap: wrap;
}
</style>
