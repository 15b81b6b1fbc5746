/**
 * The tests that a plan implies, from every segment, of both kinds: what must work and what must
 * not.
 */
import { disciplines } from '../disciplines'
import type { SiteModel } from '../topology'
import { ProofBuilder } from './builder'
import type { ProofTest } from './proofTest'

export function proofTestsOf(model: SiteModel): ProofTest[] {
  const proof = new ProofBuilder(model)
  for (const d of disciplines) d.tests?.(proof)
  return proof.withControls()
}
