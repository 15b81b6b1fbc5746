/** Hosts get their address, and reach their gateway. */
import { MANAGED, type Device, type Segment } from '../plan'
import type { ProofBuilder } from '../proof/builder'

export function addressTests(proof: ProofBuilder): void {
  for (const host of proof.hosts) ownSegment(proof, host)
  for (const s of proof.model.segments) if (s.subnet) nobodyIn(proof, s)
}

/**
 * A segment that nobody can be asked in is not proven by all others: neither a host nor a device
 * that calls the controller is in it.
 */
function nobodyIn({ model, add, hosts }: ProofBuilder, segment: Segment): void {
  const calls = (d: Device): boolean => model.profileOf(d.id).adoptable
  if (hosts.some((h) => h.addressing.segmentId === segment.id)) return
  if (model.membersOf(segment.id).some(calls)) return
  add(
    {
      id: `${segment.id}:nobody`,
      title: `Somebody in ${segment.name} is asked: a laptop or telephone of the plan`,
      kind: 'nobody',
      from: segment.id,
      fromPlace: segment.id,
      toPlace: 'gateway',
      expected: 'works',
      because: `${model.vlanName(segment.id)} is in the plan, and no host is in it`,
    },
    null,
  )
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
