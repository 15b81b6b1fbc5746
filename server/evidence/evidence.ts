/**
 * Evidence from the field: photographs, readings and notes, with their time, kept once however
 * often they are sent.
 */
import { and, desc, eq, ne, sql } from 'drizzle-orm'
import { z } from 'zod'
import { db, inTransaction } from '../db/database'
import { accounts, evidence, log } from '../db/schema'
import { notify } from '../live/notices'
import { doneAtSchema } from '../steps/steps'
import { isPhotograph, photographTypes } from './photograph'

/** Largest photograph, octets; the browser makes them smaller before it sends them. */
export const MAX_FILE_BYTES = 3 * 1024 * 1024
export const MAX_BODY_BYTES = Math.ceil((MAX_FILE_BYTES * 4) / 3) + 8192

const base = {
  id: z.uuid(),
  at: doneAtSchema,
  stepId: z.string().max(160).nullable(),
  text: z.string().max(2000),
}
export const evidenceSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.enum(['note', 'reading']), ...base }),
  z
    .strictObject({
      kind: z.literal('photo'),
      ...base,
      mediaType: z.enum(photographTypes as [string, ...string[]]),
      file: z
        .base64()
        .transform((t) => Buffer.from(t, 'base64'))
        .refine((b) => b.length <= MAX_FILE_BYTES, 'a photograph is at most 3 MiB'),
    })
    .refine(
      (e) => Buffer.isBuffer(e.file) && isPhotograph(e.file, e.mediaType),
      'the file is not a picture of the kind that it claims to be',
    ),
])
export type NewEvidence = z.infer<typeof evidenceSchema>

/** What a site keeps at the most: pieces, and octets of photographs. */
const MOST_PIECES = 10_000
const MOST_OCTETS = 2 * 1024 ** 3

/** Kept once, however often it is sent. Undefined, or why there is no room for it. */
export async function keepEvidence(
  siteId: string,
  revision: number,
  accountId: string,
  given: NewEvidence,
): Promise<string | undefined> {
  return inTransaction(async (tx) => {
    const [there] = await tx
      .select({
        pieces: sql<number>`count(*)::int`,
        octets: sql<string>`coalesce(sum(octet_length(${evidence.file})), 0)`,
      })
      .from(evidence)
      .where(eq(evidence.siteId, siteId))
    if (there!.pieces >= MOST_PIECES || Number(there!.octets) >= MOST_OCTETS)
      return (
        `this site keeps ${there!.pieces} pieces of evidence, ` +
        `${Math.ceil(Number(there!.octets) / 1024 ** 2)} MiB of photographs; the most are ` +
        `${MOST_PIECES} and ${MOST_OCTETS / 1024 ** 2} MiB`
      )
    const photo = given.kind === 'photo' ? { file: given.file, mediaType: given.mediaType } : {}
    const [made] = await tx
      .insert(evidence)
      .values({
        id: given.id,
        siteId,
        kind: given.kind,
        source: 'person',
        at: given.at,
        revision,
        accountId,
        stepId: given.stepId,
        body: { text: given.text },
        ...photo,
      })
      .onConflictDoNothing()
      .returning({ id: evidence.id })
    if (!made) return undefined
    await tx.insert(log).values({
      siteId,
      accountId,
      what:
        `Kept a ${given.kind}${given.stepId ? ` for ${given.stepId}` : ''}` +
        `${given.text ? `: ${given.text.slice(0, 120)}` : ''}`,
    })
    await notify(tx, { site: siteId, topic: 'evidence' })
    return undefined
  })
}

/** All evidence but proofs, which have a route of their own; without the octets of photographs. */
export const evidenceOf = (siteId: string) =>
  db()
    .select({
      id: evidence.id,
      kind: evidence.kind,
      source: evidence.source,
      at: evidence.at,
      revision: evidence.revision,
      who: sql<string | null>`coalesce(${accounts.name}, ${evidence.whoName})`,
      stepId: evidence.stepId,
      body: evidence.body,
      mediaType: evidence.mediaType,
      bytes: sql<number | null>`octet_length(${evidence.file})`,
    })
    .from(evidence)
    .leftJoin(accounts, eq(accounts.id, evidence.accountId))
    .where(and(eq(evidence.siteId, siteId), ne(evidence.kind, 'proof')))
    .orderBy(desc(evidence.at))
    .limit(500)

export async function photographOf(
  siteId: string,
  id: string,
): Promise<{ file: Buffer; mediaType: string } | undefined> {
  const [row] = await db()
    .select({ file: evidence.file, mediaType: evidence.mediaType })
    .from(evidence)
    .where(and(eq(evidence.siteId, siteId), eq(evidence.id, id)))
  return row?.file && row.mediaType ? { file: row.file, mediaType: row.mediaType } : undefined
}
