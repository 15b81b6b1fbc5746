/** The tunnel and the peer that the sheet shows, with all that is reckoned of them. */
import { peersOf, tunnelKinds, type Peer, type Tunnel } from '@mast/core/plan'
import { reckonTunnel, type ReckonedPeer, type ReckonedTunnel } from '@mast/core/tunnels'

const chosenTunnel = ref<string | null>(null)
const chosenPeer = ref<string | null>(null)

export function useTunnels() {
  const site = useSite()
  const all = computed(() =>
    Object.values(site.opened.plan.tunnels).sort(
      (a, b) =>
        tunnelKinds.indexOf(a.kind) - tunnelKinds.indexOf(b.kind) || a.name.localeCompare(b.name),
    ),
  )
  // What a finding selects is a tunnel, or somebody at its other end.
  watch(
    () => site.selected,
    (id) => {
      const { tunnels, peers } = site.opened.plan
      if (id === null) return
      if (tunnels[id]) chosenTunnel.value = id
      const peer = peers[id]
      if (peer) [chosenTunnel.value, chosenPeer.value] = [peer.tunnelId, id]
    },
    { immediate: true },
  )
  const tunnel = computed<Tunnel | null>(
    () => all.value.find((t) => t.id === chosenTunnel.value) ?? all.value[0] ?? null,
  )
  const reckoned = computed<ReckonedTunnel | null>(() =>
    tunnel.value ? reckonTunnel(site.opened.model, tunnel.value) : null,
  )
  const peers = computed<readonly ReckonedPeer[]>(() => reckoned.value?.peers ?? [])
  const peer = computed<ReckonedPeer | null>(
    () => peers.value.find((p) => p.peer.id === chosenPeer.value) ?? peers.value[0] ?? null,
  )
  return {
    all,
    tunnel,
    reckoned,
    peers,
    peer,
    chooseTunnel: (id: string) => {
      chosenTunnel.value = id
      const [first] = peersOf(site.opened.plan, id)
      chosenPeer.value = first?.id ?? null
    },
    choosePeer: (id: string) => {
      chosenPeer.value = id
      chosenTunnel.value = site.opened.plan.peers[id]?.tunnelId ?? chosenTunnel.value
    },
    change: (changes: Partial<Tunnel>): string | undefined =>
      tunnel.value ? site.edit('changeTunnel', { id: tunnel.value.id, changes }) : undefined,
    changePeer: (id: string, changes: Partial<Peer>): string | undefined =>
      site.edit('changePeer', { id, changes }),
  }
}
