/** What a site is as one file: its first plan and every change since, what was done and seen, its secrets under a passphrase. */
import { z } from 'zod'
import { digestOf, parsePlan, patchSchema, runPatches, type PlanPatch, type SitePlan } from '@mast/core/plan'

export const SITE_FILE = 'able-mast-site'
const VERSION = 1
const time = z.iso.datetime()
const base64 = z.base64()

const contentSchema = z.strictObject({
  exportedAt: time,
  clockSpeed: z.number().min(1).max(1000),
  first: z.unknown(),
  revisions: z.array(z.strictObject({ number: z.int().min(1), summary: z.string().max(300), author: z.string().nullable(), at: time, patches: z.array(patchSchema), inverse: z.array(patchSchema) })).min(1).max(100_000),
  steps: z.array(z.strictObject({ stepId: z.string().max(160), doneAt: time, readyAt: time, by: z.string().nullable(), note: z.string().max(500) })).max(100_000),
  evidence: z.array(z.strictObject({
    kind: z.enum(['proof', 'backup', 'note', 'photo', 'reading']), source: z.string().max(40), at: time, revision: z.int(), by: z.string().nullable(), stepId: z.string().max(160).nullable(), body: z.unknown(), file: base64.nullable(), mediaType: z.string().max(40).nullable(),
  })).max(100_000),
  trail: z.array(z.strictObject({ at: time, who: z.string(), what: z.string() })).max(1_000_000),
  secrets: z.strictObject({ kdf: z.literal('scrypt'), N: z.int(), r: z.int(), p: z.int(), salt: base64, nonce: base64, tag: base64, body: base64 }).nullable(),
})
export type SiteContent = z.infer<typeof contentSchema>
const fileSchema = z.strictObject({ format: z.literal(SITE_FILE), version: z.literal(VERSION), digest: z.string().regex(/^[0-9a-f]{64}$/), content: z.record(z.string(), z.unknown()) })

export const writeSiteFile = (content: SiteContent): { format: string; version: number; digest: string; content: SiteContent } => ({ format: SITE_FILE, version: VERSION, digest: digestOf(content), content })

export interface Rebuilt { readonly number: number; readonly plan: SitePlan; readonly patches: readonly PlanPatch[]; readonly inverse: readonly PlanPatch[]; readonly summary: string; readonly author: string | null; readonly at: Date }
export type ReadSiteFile = { ok: true; content: SiteContent; revisions: Rebuilt[] } | { ok: false; reason: string }

/** Reads a file and makes every revision anew from the first, so that what comes in is a history that holds together. */
export function readSiteFile(value: unknown): ReadSiteFile {
  const file = fileSchema.safeParse(value)
  if (!file.success) return { ok: false, reason: `this is not a site file of this version: ${where(file.error)}` }
  if (digestOf(file.data.content) !== file.data.digest) return { ok: false, reason: 'the file was changed or damaged: its digest does not fit' }
  const content = contentSchema.safeParse(file.data.content)
  if (!content.success) return { ok: false, reason: `the file is damaged: ${where(content.error)}` }
  const first = parsePlan(content.data.first)
  if (!first.ok) return { ok: false, reason: `its first plan cannot be used: ${first.problems[0]!.path.join('.')} ${first.problems[0]!.reason}` }
  const revisions: Rebuilt[] = []
  let { plan } = first
  for (const [i, r] of content.data.revisions.entries()) {
    if (r.number !== i + 1) return { ok: false, reason: `its revisions are not without gaps: ${r.number} stands where ${i + 1} is due` }
    if (i > 0) {
      const outcome = runPatches(plan, r.patches as PlanPatch[], r.summary)
      if (!outcome.ok) return { ok: false, reason: `revision ${r.number} does not follow from the one before: ${outcome.problems[0]!.reason}` }
      plan = outcome.plan
    }
    revisions.push({ ...r, plan, patches: r.patches as PlanPatch[], inverse: r.inverse as PlanPatch[], at: new Date(r.at) })
  }
  return { ok: true, content: content.data, revisions }
}
const where = (error: z.ZodError): string => `${error.issues[0]!.path.join('.')} ${error.issues[0]!.message}`
