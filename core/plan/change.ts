/**
 * One change on its way to the server: an edit by name, several that belong together, or the
 * patches of an undo, a redo or a
 * restore.
 */
import { z } from 'zod'
import { runPatches, type EditOutcome, type PlanPatch } from './edit'
import { applyRawEdit } from './edits'
import { runEdits } from './several'
import type { SitePlan } from './schema'

export const patchSchema = z.strictObject({
  op: z.enum(['add', 'remove', 'replace']),
  path: z
    .array(z.union([z.string().max(64), z.int().min(0).max(1_000_000)]))
    .min(1)
    .max(8),
  value: z.unknown().optional(),
})
/** A large import is one change; it is larger than any that a person looks through. */
export const MOST_EDITS = 5000
/** Made by who changes; a change that arrives twice is saved once. */
const changeId = z.uuid()
export const changeSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    id: changeId,
    kind: z.literal('edit'),
    name: z.string().max(64),
    args: z.unknown(),
  }),
  z.strictObject({
    id: changeId,
    kind: z.literal('edits'),
    summary: z.string().max(300),
    edits: z
      .array(z.strictObject({ name: z.string().max(64), args: z.unknown() }))
      .min(1)
      .max(MOST_EDITS),
  }),
  z.strictObject({
    id: changeId,
    kind: z.literal('patches'),
    summary: z.string().max(300),
    patches: z.array(patchSchema).min(1).max(20_000),
  }),
])
export type Change = z.infer<typeof changeSchema>

export const runChange = (plan: SitePlan, change: Change): EditOutcome =>
  change.kind === 'edit'
    ? applyRawEdit(plan, change)
    : change.kind === 'edits'
      ? runEdits(plan, change.summary, change.edits)
      : runPatches(plan, change.patches as PlanPatch[], change.summary)
