/** The plan of a site: read, and saved change by change. */
import { changeSchema } from '@mast/core/plan'
import { z } from 'zod'
import { endpoint } from './endpoint'
import { revisionLines } from './sites'
import { counted, countedText, moment, patches, plan, role } from './values'

/** A revision that was saved after the one that was asked about, with what it changed. */
const revisionSince = z.object({
  number: counted,
  changeId: z.string().nullable(),
  summary: z.string(),
  author: z.string().nullable(),
  patches,
})
const site = z.object({
  id: z.string(),
  role,
  revision: counted,
  plan,
  revisions: revisionLines,
  /** Null where the history does not have that revision: the server was set back. */
  since: z.array(revisionSince).nullable(),
})
export type SiteReply = z.infer<typeof site>
/**
 * The newest plan with its last revisions; with `since`, also what was saved after that revision,
 * with patches. `at` is when that revision was saved.
 */
export const readSite = endpoint({
  method: 'GET',
  path: '/api/sites/:site',
  access: 'viewer',
  query: z.object({ since: countedText.optional(), at: moment.optional() }),
  reply: site,
})

const save = z.object({
  revision: counted,
  /** Whether there were revisions after the base: somebody else's, or ours with its answer lost. */
  merged: z.boolean(),
  made: z.array(
    z.object({ number: counted, summary: z.string(), changeId: z.string(), at: moment }),
  ),
})
export type SaveReply = z.infer<typeof save>
const saveBody = z.strictObject({
  base: counted,
  /** When the base was saved, so that a base of another history is noticed. */
  baseAt: z.iso.datetime().optional(),
  changes: z.array(changeSchema).min(1).max(200),
})
export type SaveGiven = z.infer<typeof saveBody>
/**
 * Saves changes on top of the newest revision; 409 with the conflicts where somebody else changed
 * the same since theirs.
 */
export const saveChanges = endpoint({
  method: 'POST',
  path: '/api/sites/:site/edits',
  access: 'engineer',
  body: saveBody,
  reply: save,
})
