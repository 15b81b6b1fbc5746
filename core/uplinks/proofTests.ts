/** The line carries what it is said to carry. */
import { lineMtuOf } from '../plan'
import type { ProofBuilder } from '../proof/builder'

/**
 * The largest packet that the line is said to carry, whole: from the gateway, and from a host
 * where one may ping the internet. A small one beside it tells size from silence.
 */
export function uplinkTests(proof: ProofBuilder): void {
  const { wayOut } = proof.model
  if (!wayOut) return
  const octets = lineMtuOf(wayOut.handOff)
  const probe = { kind: 'ping' as const, target: { kind: 'internet' as const }, port: null }
  const base = { kind: 'ping' as const, toPlace: 'internet' as const, expected: 'works' as const }
  proof.add(
    {
      ...base,
      id: 'gateway>internet:ping:',
      title: 'The internet answers, asked by the gateway',
      from: 'gateway',
      fromPlace: 'gateway',
      because: 'what must not be reached has to be there',
    },
    probe,
  )
  proof.add(
    {
      ...base,
      id: 'gateway>internet:largest',
      title: `A packet of ${octets} octets passes the line whole, sent by the gateway`,
      from: 'gateway',
      fromPlace: 'gateway',
      because: `${wayOut.name} has an MTU of ${octets}`,
    },
    { ...probe, octets },
  )
  const host = proof.asking.find((h) => proof.decide(h.id, 'internet', 'icmp', null).allowed)
  if (host)
    proof.add(
      {
        ...base,
        id: `${host.id}>internet:largest`,
        title: `A packet of ${octets} octets passes the line whole, sent by ${host.name}`,
        from: host.id,
        fromPlace: host.addressing.segmentId!,
        because: `${wayOut.name} has an MTU of ${octets}`,
      },
      { ...probe, octets },
    )
}
