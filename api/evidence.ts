/** Photographs, readings, notes, failovers that were tried, and backups. */
import { drillKinds, drillSchema } from '@mast/core/uplinks'
import { z } from 'zod'
import { endpoint } from './endpoint'
import { doneAt, moment, nothing } from './values'

export const evidenceBody = z.object({
  text: z.string().optional(),
  /** Of a backup: whose, and of which configuration. */
  deviceId: z.string().optional(),
  digest: z.string().optional(),
  /** Of a failover that was tried. */
  drill: drillSchema.optional().catch(undefined),
})
const evidenceLine = z.object({
  id: z.string(),
  kind: z.string(),
  at: moment,
  who: z.string().nullable(),
  revision: z.number(),
  stepId: z.string().nullable(),
  body: evidenceBody,
  mediaType: z.string().nullable(),
})
export type EvidenceLine = z.infer<typeof evidenceLine>
/** All but proofs, which have a route of their own. */
export const readEvidence = endpoint({
  method: 'GET',
  path: '/api/sites/:site/evidence',
  access: 'viewer',
  reply: z.array(evidenceLine),
})

/** Largest photograph, octets; the browser makes them smaller before it sends them. */
export const MOST_PHOTOGRAPH_OCTETS = 3 * 1024 * 1024
export const photographTypes = ['image/jpeg', 'image/png', 'image/webp'] as const
export type PhotographType = (typeof photographTypes)[number]
const base = {
  /** Made by who keeps it; sent twice, it is kept once. */
  id: z.uuid(),
  at: doneAt,
  stepId: z.string().max(160).nullable(),
  text: z.string().max(2000),
}
const newEvidence = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.enum(['note', 'reading']), ...base }),
  z.strictObject({ kind: z.literal('drill'), ...base, drill: drillSchema }),
  // A picture is one that lies under a plan of the place.
  z.strictObject({
    kind: z.enum(['photo', 'picture']),
    ...base,
    mediaType: z.enum(photographTypes),
    file: z.base64(),
  }),
])
export type NewEvidence = z.output<typeof newEvidence>
export type EvidenceToSend = z.input<typeof newEvidence>
export const keepEvidence = endpoint({
  method: 'POST',
  path: '/api/sites/:site/evidence',
  access: 'installer',
  body: newEvidence,
  reply: nothing,
})
/** A photograph, as the picture that it is. */
export const readPhotograph = endpoint({
  method: 'GET',
  path: '/api/sites/:site/evidence/:id/file',
  access: 'viewer',
  params: { id: z.uuid() },
})
/** Tries a failover on the stand-ins, and keeps what was measured. */
export const runDrill = endpoint({
  method: 'POST',
  path: '/api/sites/:site/drill',
  access: 'installer',
  body: z.strictObject({
    /** The first line where none is said. */
    lineId: z.string().max(64).optional(),
    kind: z.enum(drillKinds),
    outageSeconds: z.number().min(1).max(7200),
    isAfterRestart: z.boolean(),
  }),
  reply: z.object({ drill: drillSchema }),
})
