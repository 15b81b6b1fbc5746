/** Hosts get their address, and reach their gateway. */
import { MANAGED, type Device } from '../plan'
import type { ProofBuilder } from '../proof/builder'

export function addressTests(proof: ProofBuilder): void {
  for (const host of proof.hosts) ownSegment(proof, host)
}

function ownSegment(proof: ProofBuilder, host: Device): void {
  const segment = proof.segmentOf(host)
  const base = {
    from: host.id,
    fromPlace: segment.id,
    toPlace: 'gateway' as const,
    expected: 'works' as const,
  }
  if (host.addressing.mode !== 'fixed')
    proof.add(
      {
        ...base,
        id: `${host.id}:lease`,
        kind: 'lease',
        title: `${host.name} gets an address in ${segment.name}`,
        ...proof.lease(host),
        because: `it belongs to ${proof.model.vlanName(segment.id)}`,
      },
      { kind: 'lease', target: null, port: null },
    )
  proof.push(host, 'ping', 'its gateway', 'gateway', proof.decide(host.id, MANAGED, 'icmp', null), {
    kind: 'ping',
    target: { kind: 'own-gateway' },
    port: null,
  })
}
