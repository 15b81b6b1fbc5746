/**
 * What a site is as one file: its first plan and every change since, what was done and seen, its
 * secrets under a passphrase.
 */
import { z } from 'zod'
import {
  digestOf,
  migrate,
  parsePlan,
  patchesBetween,
  patchSchema,
  PLAN_VERSION,
  replayPatches,
  runPatches,
  type EditOutcome,
  type JsonObject,
  type PlanPatch,
  type SitePlan,
} from '@mast/core/plan'
import { isPhotograph } from '../evidence/photograph'
import { claimsSchema } from './claims'
import { ownerSchema } from './owner'

export const SITE_FILE = 'able-mast-site'
const VERSION = 1
const time = z.iso
  .datetime()
  .refine((t) => t >= '1970' && t < '2200', 'not a time that anything of a site can have')
/** Whole numbers are stored in 32 bits. */
const MAX_INT = 2 ** 31 - 1
const base64 = z.base64()

const contentSchema = z.strictObject({
  exportedAt: time,
  clockSpeed: z.number().min(1).max(1000),
  first: z.unknown(),
  revisions: z
    .array(
      z.strictObject({
        number: z.int().min(1),
        summary: z.string().max(300),
        author: z.string().nullable(),
        at: time,
        patches: z.array(patchSchema),
        inverse: z.array(patchSchema),
        /**
         * Of the plan document that the patches are for; files that do not say it have one version
         * throughout.
         */
        version: z.int().min(1).max(1000).optional(),
      }),
    )
    .min(1)
    .max(100_000),
  steps: z
    .array(
      z.strictObject({
        stepId: z.string().max(160),
        doneAt: time,
        readyAt: time,
        by: z.string().nullable(),
        note: z.string().max(500),
        /** What it said then (`saysOf`); files of an earlier version do not know. */
        said: z.string().max(64).nullable().optional(),
      }),
    )
    .max(100_000),
  evidence: z
    .array(
      z.strictObject({
        /** By which the plan names it; files of an earlier version do not say it. */
        id: z.uuid().optional(),
        kind: z.enum(['proof', 'backup', 'note', 'photo', 'picture', 'reading', 'drill']),
        source: z.string().max(40),
        at: time,
        revision: z.int().min(0).max(MAX_INT),
        by: z.string().nullable(),
        stepId: z.string().max(160).nullable(),
        body: z.unknown(),
        file: base64.nullable(),
        mediaType: z.string().max(40).nullable(),
      }),
    )
    .max(100_000),
  trail: z.array(z.strictObject({ at: time, who: z.string(), what: z.string() })).max(1_000_000),
  /** By whose word devices from their box are this site's; files of an earlier version have none. */
  owner: ownerSchema.nullable().optional(),
  /** Devices that are claimed; files of an earlier version do not say it. */
  claims: claimsSchema.optional(),
  secrets: z
    .strictObject({
      kdf: z.literal('scrypt'),
      N: z.int(),
      r: z.int(),
      p: z.int(),
      salt: base64,
      nonce: base64,
      tag: base64,
      body: base64,
    })
    .nullable(),
})
export type SiteContent = z.infer<typeof contentSchema>
const fileSchema = z.strictObject({
  format: z.literal(SITE_FILE),
  version: z.literal(VERSION),
  digest: z.string().regex(/^[0-9a-f]{64}$/),
  content: z.record(z.string(), z.unknown()),
})

export const writeSiteFile = (
  content: SiteContent,
): { format: string; version: number; digest: string; content: SiteContent } => ({
  format: SITE_FILE,
  version: VERSION,
  digest: digestOf(content),
  content,
})

export interface Rebuilt {
  readonly number: number
  readonly plan: SitePlan
  readonly patches: readonly PlanPatch[]
  readonly inverse: readonly PlanPatch[]
  readonly summary: string
  readonly author: string | null
  readonly at: Date
}
export type ReadSiteFile =
  { ok: true; content: SiteContent; revisions: Rebuilt[] } | { ok: false; reason: string }

type Step =
  | {
      ok: true
      plan: SitePlan
      patches: readonly PlanPatch[]
      inverse: readonly PlanPatch[]
      document: JsonObject
    }
  | Extract<EditOutcome, { ok: false }>

/**
 * A revision on top of the one before.
 * @param document the plan before in the version that it was written in, which its patches are for
 */
function follow(
  plan: SitePlan,
  document: JsonObject,
  {
    version,
    patches,
    summary,
  }: { version?: number | undefined; patches: readonly unknown[]; summary: string },
): Step {
  const moved = migrate(document, version)
  if (!moved.ok) return { ok: false, problems: [{ path: [], reason: moved.reason }] }
  if (moved.document.version === PLAN_VERSION) {
    const outcome = runPatches(plan, patches as PlanPatch[], summary)
    return outcome.ok ? { ...outcome, document: outcome.plan as unknown as JsonObject } : outcome
  }
  // What was written in an earlier version is brought to this one, and so is what it changed.
  let next: JsonObject
  try {
    next = replayPatches(moved.document, patches as PlanPatch[]) as JsonObject
  } catch {
    return {
      ok: false,
      problems: [{ path: [], reason: 'what this step changes is no longer there' }],
    }
  }
  const parsed = parsePlan(next)
  return parsed.ok
    ? {
        ...parsed,
        patches: patchesBetween(plan, parsed.plan),
        inverse: patchesBetween(parsed.plan, plan),
        document: next,
      }
    : parsed
}

/**
 * Reads a file and makes every revision anew from the first, so that what comes in is a history
 * that holds together.
 */
export function readSiteFile(value: unknown): ReadSiteFile {
  const file = fileSchema.safeParse(value)
  if (!file.success)
    return { ok: false, reason: `this is not a site file of this version: ${where(file.error)}` }
  if (digestOf(file.data.content) !== file.data.digest)
    return { ok: false, reason: 'the file was changed or damaged: its digest does not fit' }
  const content = contentSchema.safeParse(file.data.content)
  if (!content.success) return { ok: false, reason: `the file is damaged: ${where(content.error)}` }
  const first = parsePlan(content.data.first)
  if (!first.ok)
    return {
      ok: false,
      reason: `its first plan cannot be used: ${first.problems[0]!.path.join('.')} ${first.problems[0]!.reason}`,
    }
  const revisions: Rebuilt[] = []
  let { plan } = first
  let document = content.data.first as JsonObject
  for (const [i, r] of content.data.revisions.entries()) {
    if (r.number !== i + 1)
      return {
        ok: false,
        reason: `its revisions are not without gaps: ${r.number} stands where ${i + 1} is due`,
      }
    const { number, summary, author } = r
    const step: Step =
      i === 0
        ? { ok: true, plan, document, patches: [], inverse: [] }
        : follow(plan, document, { ...r, version: r.version ?? (document.version as number) })
    if (!step.ok)
      return {
        ok: false,
        reason: `revision ${number} does not follow from the one before: ${step.problems[0]!.reason}`,
      }
    ;({ plan, document } = step)
    revisions.push({
      number,
      summary,
      author,
      plan,
      patches: step.patches,
      inverse: step.inverse,
      at: new Date(r.at),
    })
  }
  const ids = content.data.evidence.flatMap((e) => e.id ?? [])
  if (new Set(ids).size < ids.length)
    return { ok: false, reason: 'two pieces of evidence in the file have the same id' }
  const strange = content.data.evidence.find(
    (e) => e.file !== null && !isPhotograph(Buffer.from(e.file, 'base64'), e.mediaType ?? ''),
  )
  if (strange)
    return {
      ok: false,
      reason: `what was kept at ${strange.at} is not the picture that it claims to be`,
    }
  return { ok: true, content: content.data, revisions }
}
const where = (error: z.ZodError): string =>
  `${error.issues[0]!.path.join('.')} ${error.issues[0]!.message}`
