/** The proof of a site. */
import type { Cause, ProofResult, ProofTest } from '@mast/core/proof'
import { observationSchema, probeSchema } from '@mast/protocol'
import { z } from 'zod'
import { endpoint } from './endpoint'
import { proofCount } from './sites'
import { counted, moment } from './values'

const test: z.ZodType<ProofTest> = z.object({
  id: z.string(),
  title: z.string(),
  kind: z.enum(['service', 'nobody', ...probeSchema.shape.kind.options]),
  from: z.string(),
  fromPlace: z.string(),
  toPlace: z.string(),
  expected: z.enum(['works', 'blocked']),
  hours: z
    .object({
      spans: z.array(z.object({ first: z.number(), end: z.number() })),
      timeZone: z.string(),
    })
    .nullable()
    .default(null),
  subnet: z.string().nullable(),
  address: z.string().nullable(),
  server: z.string().nullable(),
  because: z.string(),
  controlId: z.string().nullable(),
  probe: probeSchema.nullable(),
})
const result: z.ZodType<ProofResult> = z.object({
  test,
  verdict: z.enum(['as-planned', 'contradicts', 'untested']),
  observed: z.string(),
  observation: observationSchema.nullable(),
})
const texts = z.array(z.string())
const cause: z.ZodType<Cause> = z.object({
  kind: z.string(),
  text: z.string(),
  evidence: texts,
  checks: texts,
  explains: texts,
  subjects: texts,
})
export const proofBody = z.object({
  results: z.array(result),
  causes: z.array(cause),
  count: proofCount,
})
const proof = z.object({
  id: z.string(),
  at: moment,
  revision: counted,
  /** That devices had; null where nothing was released. */
  release: counted.nullable().default(null),
  body: proofBody,
})
export type Proof = z.infer<typeof proof>
/** The last proof, or null. */
export const readProof = endpoint({
  method: 'GET',
  path: '/api/sites/:site/proof',
  access: 'viewer',
  // One that an earlier version kept may not say all that this one asks of it: it is none then.
  reply: z.object({ proof: proof.nullable().catch(null) }),
})
/** Runs the proof on the stand-ins, whole or some tests of it again. */
export const runProof = endpoint({
  method: 'POST',
  path: '/api/sites/:site/proof',
  access: 'installer',
  body: z.strictObject({ only: z.array(z.string().max(160)).max(100_000).nullable() }),
  reply: z.object({ proof }),
})
