/** Networks on the air. */
import type { Device, Portal, WirelessNetwork } from '../plan'
import type { ProofBuilder } from '../proof/builder'
import { carriageOf } from '../topology'
import { airTests } from './airTests'

export function wifiTests(proof: ProofBuilder): void {
  airTests(proof)
  for (const network of Object.values(proof.model.plan.wirelessNetworks))
    onAir(
      proof,
      network,
      proof.hosts.filter((h) => h.wirelessNetworkId === network.id),
    )
}

/** Whoever has not passed the page goes nowhere; who has, out, and for as long as is said. */
function page(
  proof: ProofBuilder,
  network: WirelessNetwork,
  { sessionMinutes, entry }: Portal,
  client: Device,
): void {
  // What the rules let nobody do shows nothing of the page.
  if (!proof.model.wayOut || !proof.decide(client.id, 'internet', 'icmp', null).allowed) return
  proof.add(
    {
      id: `${client.id}:page@${network.id}`,
      kind: 'page',
      title:
        `${client.name} is held back by the page of '${network.name}', and let through for ` +
        `${durationWords(sessionMinutes)} ` +
        (entry === 'terms' ? 'when it agrees to the terms' : 'with the password'),
      from: client.id,
      fromPlace: network.segmentId,
      toPlace: 'internet',
      expected: 'works',
      because: `'${network.name}' shows its page first`,
    },
    { kind: 'page', target: { kind: 'internet' }, port: null, sessionMinutes },
  )
}
const durationWords = (minutes: number): string =>
  minutes % 60 === 0 ? `${minutes / 60} h` : `${minutes} min`

/**
 * Each network from each of its access points, and its clients kept apart between them where they
 * are to be.
 */
function onAir(proof: ProofBuilder, network: WirelessNetwork, clients: readonly Device[]): void {
  const [client, other] = clients
  if (!client) return
  const segment = proof.model.segment(network.segmentId)
  const points = network.accessPointIds.filter((ap) =>
    carriageOf(proof.model, segment.id)
      .at(ap)
      .some((a) => a.inside === segment.vlanId),
  )
  const name = (ap: string): string => proof.model.device(ap).name
  if (network.portal) page(proof, network, network.portal, client)
  if (network.accessPointIds.length > 1)
    for (const ap of network.accessPointIds)
      proof.add(
        {
          id: `${client.id}:lease@${ap}`,
          kind: 'lease',
          title: `${client.name} gets an address in ${segment.name} by '${network.name}' at ${name(ap)}`,
          from: client.id,
          fromPlace: segment.id,
          toPlace: 'gateway',
          expected: 'works',
          ...proof.lease(client),
          because: `${name(ap)} sends '${network.name}'`,
        },
        { kind: 'lease', target: null, port: null, via: ap },
      )
  if (!network.clientIsolation || !other || points.length === 0) return
  // On one access point, and from the first to each of the others.
  for (const ap of points)
    proof.add(
      {
        id: `${client.id}>${other.id}:apart@${ap}`,
        kind: 'ping',
        title: `${client.name} at ${name(points[0]!)} must not reach ${other.name} at ${name(ap)}`,
        from: client.id,
        fromPlace: segment.id,
        toPlace: segment.id,
        expected: 'blocked',
        because: `'${network.name}' keeps its clients apart`,
      },
      {
        kind: 'ping',
        target: { kind: 'host', deviceId: other.id },
        port: null,
        via: points[0]!,
        targetVia: ap,
      },
    )
}
