/** The drawer of sites, and sites as files. */
import { z } from 'zod'
import { endpoint } from './endpoint'
import { counted, countedText, moment, nothing, plan } from './values'

const sheetCount = z.object({ blockers: z.number(), cautions: z.number() })
export const proofCount = z.object({
  asPlanned: z.number(),
  contradicts: z.number(),
  untested: z.number(),
  proven: z.boolean(),
})
const siteLine = z.object({
  id: z.string(),
  revision: z.number(),
  name: z.string(),
  country: z.string(),
  devices: z.number(),
  segments: z.number(),
  adoptable: z.number(),
  inService: z.number(),
  /** Findings of the plan by sheet. */
  marks: z.record(z.string(), sheetCount),
  steps: z.number(),
  stepsDone: z.number(),
  nextStep: z.string().nullable(),
  proof: proofCount.extend({ at: moment, revision: z.number() }).nullable(),
  /** Why its plan could not be looked at. */
  unread: z.string().nullable(),
  /** Its plan is still being looked through. */
  isLooking: z.boolean(),
})
export type SiteLine = z.infer<typeof siteLine>

/** The drawer: every site of the account with how far it is. */
export const readSites = endpoint({
  method: 'GET',
  path: '/api/sites',
  access: 'account',
  reply: z.array(siteLine),
})
const opened = z.object({ id: z.string(), revision: z.number() })
/** Opens a site, empty or from a plan document. */
export const openSite = endpoint({
  method: 'POST',
  path: '/api/sites',
  access: 'account',
  body: z.strictObject({
    name: z.string().trim().min(1).max(80),
    plan: z.unknown().optional(),
  }),
  reply: opened,
})
/** A site out of a file, as a new site of whoever brings it. */
export const bringInSite = endpoint({
  method: 'POST',
  path: '/api/sites/import',
  access: 'account',
  body: z.strictObject({ file: z.unknown(), passphrase: z.string().max(200).nullable() }),
  reply: opened,
})
export const LEAST_PASSPHRASE = 10
/** The site as one file; with a passphrase, its secrets are in it, sealed. */
export const takeOutSite = endpoint({
  method: 'POST',
  path: '/api/sites/:site/export',
  access: 'owner',
  body: z.strictObject({
    passphrase: z
      .string()
      .min(LEAST_PASSPHRASE, `a passphrase has at least ${LEAST_PASSPHRASE} characters`)
      .max(200)
      .nullable(),
  }),
  reply: z.looseObject({ format: z.literal('able-mast-site') }),
})
/** Removes a site with all its revisions, states and evidence. */
export const removeSite = endpoint({
  method: 'DELETE',
  path: '/api/sites/:site',
  access: 'owner',
  reply: nothing,
})

const overlap = z.object({
  own: z.string(),
  ownPrefix: z.string(),
  siteId: z.string(),
  siteName: z.string(),
  what: z.string(),
  prefix: z.string(),
})
export type Overlap = z.infer<typeof overlap>
const twin = z.object({
  deviceName: z.string(),
  field: z.enum(['serial', 'hardware address']),
  value: z.string(),
  siteId: z.string(),
  siteName: z.string(),
  otherName: z.string(),
})
export type Twin = z.infer<typeof twin>
/** What other sites of the asker have in common with this one. */
export const readElsewhere = endpoint({
  method: 'GET',
  path: '/api/sites/:site/elsewhere',
  access: 'viewer',
  reply: z.object({ overlaps: z.array(overlap), twins: z.array(twin) }),
})

/** How many clients access points report, by the hour of the day; hours that nobody saw are left out. */
export const readClientHours = endpoint({
  method: 'GET',
  path: '/api/sites/:site/client-hours',
  access: 'viewer',
  reply: z.array(z.object({ hour: z.number(), clients: z.number(), samples: z.number() })),
})

const logLine = z.object({
  id: z.number(),
  at: moment,
  who: z.string().nullable(),
  what: z.string(),
})
export type LogLine = z.infer<typeof logLine>
/**
 * The last entries of the audit trail, newest first, and the first entry that does not fit the
 * chain of digests, if any.
 */
export const readLog = endpoint({
  method: 'GET',
  path: '/api/sites/:site/log',
  access: 'viewer',
  reply: z.object({ entries: z.array(logLine), brokenAt: z.number().nullable() }),
})

const revisionLine = z.object({
  number: counted,
  summary: z.string(),
  author: z.string().nullable(),
  at: moment,
})
export type RevisionLine = z.infer<typeof revisionLine>
export const revisionLines = z.array(revisionLine)
/** The history, a hundred at a time, newest first. */
export const readHistory = endpoint({
  method: 'GET',
  path: '/api/sites/:site/revisions',
  access: 'viewer',
  query: z.object({ before: countedText.optional() }),
  reply: revisionLines,
})
/** The plan as it was at a revision. */
export const readRevision = endpoint({
  method: 'GET',
  path: '/api/sites/:site/revisions/:number',
  access: 'viewer',
  params: { number: countedText },
  reply: z.object({ number: counted, plan }),
})
