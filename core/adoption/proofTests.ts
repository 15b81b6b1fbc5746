/** Devices are in service. */
import type { Device } from '../plan'
import type { ProofBuilder } from '../proof/builder'

export function adoptionTests(proof: ProofBuilder): void {
  const { model } = proof
  // Nobody could say so.
  if (!model.hasController) return
  for (const d of model.devices) if (model.profileOf(d.id).adoptable) service(proof, d)
}

function service(proof: ProofBuilder, d: Device): void {
  proof.add(
    {
      id: `${d.id}:service`,
      title: `${d.name} is in service`,
      kind: 'service',
      from: d.id,
      fromPlace: d.addressing.segmentId ?? 'internet',
      toPlace: 'controller',
      expected: 'works',
      because: 'it is in the plan',
    },
    null,
  )
}
