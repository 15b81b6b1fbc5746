/**
 * Evidence from the field: photographs, readings and notes, with their time, kept once however
 * often they are sent.
 */
import { MOST_PHOTOGRAPH_OCTETS, type EvidenceLine, type NewEvidence } from '@mast/api'
import { pictureFile } from '@mast/core/wifi/drawing'
import { and, desc, eq, ne, sql } from 'drizzle-orm'
import { db, inTransaction } from '../db/database'
import { accounts, evidence, log } from '../db/schema'
import { notify } from '../live/notices'
import { Refused } from '../refusal'
import { isPhotograph } from './photograph'

/** Of a request with the largest photograph in base64, and what stands beside it. */
export const MOST_BODY_OCTETS = Math.ceil((MOST_PHOTOGRAPH_OCTETS * 4) / 3) + 8192

/** What a site keeps at the most: pieces, and octets of photographs. */
const MOST_PIECES = 10_000
const MOST_OCTETS = 2 * 1024 ** 3

/** Kept once, however often it is sent. @throws Refused where there is no room for it. */
export async function keep(
  siteId: string,
  revision: number,
  accountId: string,
  given: NewEvidence,
): Promise<void> {
  const photo = 'file' in given ? photograph(given) : {}
  await inTransaction(async (tx) => {
    const [there] = await tx
      .select({
        pieces: sql<number>`count(*)::int`,
        octets: sql<string>`coalesce(sum(octet_length(${evidence.file})), 0)`,
      })
      .from(evidence)
      .where(eq(evidence.siteId, siteId))
    if (there!.pieces >= MOST_PIECES || Number(there!.octets) >= MOST_OCTETS)
      throw new Refused(
        'not-possible',
        `this site keeps ${there!.pieces} pieces of evidence, ` +
          `${Math.ceil(Number(there!.octets) / 1024 ** 2)} MiB of photographs; the most are ` +
          `${MOST_PIECES} and ${MOST_OCTETS / 1024 ** 2} MiB`,
      )
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
        body: {
          text: given.text,
          ...(given.kind === 'drill' ? { drill: given.drill } : {}),
        },
        ...photo,
      })
      .onConflictDoNothing()
      .returning({ id: evidence.id })
    if (!made) return
    await tx.insert(log).values({
      siteId,
      accountId,
      what:
        `Kept a ${given.kind}${given.stepId ? ` for ${given.stepId}` : ''}` +
        `${given.text ? `: ${given.text.slice(0, 120)}` : ''}`,
    })
    await notify(tx, { site: siteId, topic: 'evidence' })
  })
}

/** The picture of what was sent. @throws Refused where it is none. */
function photograph({ file, mediaType }: Extract<NewEvidence, { file: string }>): {
  file: Buffer
  mediaType: string
} {
  const octets = Buffer.from(file, 'base64')
  if (octets.length > MOST_PHOTOGRAPH_OCTETS)
    throw new Refused('invalid', 'a photograph is at most 3 MiB')
  if (!isPhotograph(octets, mediaType))
    throw new Refused('invalid', 'the file is not a picture of the kind that it claims to be')
  const picture = pictureFile(octets)
  if ('refused' in picture) throw new Refused('invalid', picture.refused)
  return { file: octets, mediaType }
}

/** All evidence but proofs, which have a route of their own; without the octets of photographs. */
export const evidenceOf = (siteId: string) =>
  db()
    .select({
      id: evidence.id,
      kind: evidence.kind,
      at: evidence.at,
      revision: evidence.revision,
      who: sql<string | null>`coalesce(${accounts.name}, ${evidence.whoName})`,
      stepId: evidence.stepId,
      body: sql<EvidenceLine['body']>`${evidence.body}`,
      mediaType: evidence.mediaType,
    })
    .from(evidence)
    .leftJoin(accounts, eq(accounts.id, evidence.accountId))
    .where(and(eq(evidence.siteId, siteId), ne(evidence.kind, 'proof')))
    .orderBy(desc(evidence.at))
    .limit(500)

export async function photographOf(
  siteId: string,
  id: string,
): Promise<{ file: Buffer; mediaType: string }> {
  const [row] = await db()
    .select({ file: evidence.file, mediaType: evidence.mediaType })
    .from(evidence)
    .where(and(eq(evidence.siteId, siteId), eq(evidence.id, id)))
  if (!row?.file || !row.mediaType) throw new Refused('not-there', 'there is no such photograph')
  return { file: row.file, mediaType: row.mediaType }
}
