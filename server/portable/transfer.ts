/** A site out of the database into a file, and a file into the database as a new site. */
import { evidenceBody, proofBody } from '@mast/api'
import { asc, eq, isNotNull, sql } from 'drizzle-orm'
import { z } from 'zod'
import { idFor } from '@mast/core/plan'
import { db, inTransaction, type Executor } from '../db/database'
import {
  accounts,
  evidence,
  log,
  members,
  revisions,
  sites,
  stepsDone,
  type EvidenceBody,
} from '../db/schema'
import { isPlainText } from '../given/text'
import { Refused } from '../refusal'
import { stored } from '../sites/plans'
import { listInventory, listPrefixes, doneByClock } from '../sites/revisions'
import { readSecrets, writeSecret } from '../vault/vault'
import { openUnder, sealUnder } from '../vault/passphrase'
import { claimsIn, claimsOut } from './claims'
import { OWNER_KEY, ownerIn, ownerOut } from './owner'
import { readSiteFile, writeSiteFile, type SiteContent } from './siteFile'

/** The file as text; undefined where the site is gone. */
export async function exportSite(
  siteId: string,
  passphrase: string | null,
  accountId: string,
): Promise<string | undefined> {
  const opened = passphrase === null ? null : await readSecrets(db(), siteId)
  const owner = opened && (await ownerOut(db(), siteId))
  if (owner) opened[OWNER_KEY] = owner.key
  // Sealing takes its time; nobody's connection waits for it.
  const sealed = passphrase === null ? null : await sealUnder(passphrase, JSON.stringify(opened))
  return inTransaction(async (tx) => {
    // Held, so that nobody takes it away half way through.
    const [site] = await tx.select().from(sites).where(eq(sites.id, siteId)).for('key share')
    if (!site) return undefined
    const [first] = await tx
      .select({ document: revisions.document })
      .from(revisions)
      .where(eq(revisions.siteId, siteId))
      .orderBy(asc(revisions.number))
      .limit(1)
    const history = await tx
      .select({
        number: revisions.number,
        summary: revisions.summary,
        author: sql<string | null>`coalesce(${accounts.name}, ${revisions.authorName})`,
        at: revisions.at,
        version: revisions.version,
        patches: revisions.patches,
        inverse: revisions.inverse,
      })
      .from(revisions)
      .leftJoin(accounts, eq(accounts.id, revisions.authorId))
      .where(eq(revisions.siteId, siteId))
      .orderBy(asc(revisions.number))
    const steps = await tx
      .select({
        stepId: stepsDone.stepId,
        doneAt: stepsDone.doneAt,
        readyAt: stepsDone.readyAt,
        by: sql<string | null>`coalesce(${accounts.name}, ${stepsDone.whoName})`,
        note: stepsDone.note,
        said: stepsDone.said,
      })
      .from(stepsDone)
      .leftJoin(accounts, eq(accounts.id, stepsDone.accountId))
      .where(eq(stepsDone.siteId, siteId))
      .orderBy(asc(stepsDone.doneAt))
    const seen = await tx
      .select({
        row: evidence,
        by: sql<string | null>`coalesce(${accounts.name}, ${evidence.whoName})`,
      })
      .from(evidence)
      .leftJoin(accounts, eq(accounts.id, evidence.accountId))
      .where(eq(evidence.siteId, siteId))
      .orderBy(asc(evidence.at))
    const trail = await tx
      .select({ at: log.at, who: log.who, what: log.what })
      .from(log)
      .where(eq(log.siteId, siteId))
      .orderBy(asc(log.id))
    await tx.insert(log).values({
      siteId,
      accountId,
      what: `Saved the site as a file, ${passphrase === null ? 'without' : 'with'} its secrets`,
    })
    const content = {
      exportedAt: new Date(),
      clockSpeed: site.clockSpeed,
      first: first!.document,
      revisions: history,
      steps,
      evidence: seen.map(({ row, by }) => ({
        id: row.id,
        kind: row.kind,
        source: row.source,
        at: row.at,
        revision: row.revision,
        by,
        stepId: row.stepId,
        body: row.body,
        file: row.file?.toString('base64') ?? null,
        mediaType: row.mediaType,
      })),
      trail,
      owner: owner?.content ?? null,
      claims: passphrase === null ? [] : await claimsOut(tx, siteId),
      secrets: sealed,
    }
    return JSON.stringify(writeSiteFile(JSON.parse(JSON.stringify(content)) as SiteContent))
  })
}

const secretsSchema = z.record(
  z.string().min(1).max(64).refine(isPlainText),
  z.string().max(200).refine(isPlainText),
)

export async function importSite(
  value: unknown,
  passphrase: string | null,
  accountId: string,
): Promise<{ id: string; revision: number }> {
  const refuse = (reason: string): Refused => new Refused('not-possible', reason)
  const read = readSiteFile(value)
  if (!read.ok) throw refuse(read.reason)
  const { content, revisions: history } = read
  const opened =
    content.secrets && passphrase !== null
      ? await openUnder(passphrase, content.secrets)
      : undefined
  if (content.secrets && passphrase === null)
    throw refuse('the secrets of this file are sealed; give its passphrase')
  if (content.secrets && opened === undefined)
    throw refuse('the passphrase does not open the secrets of this file')
  return inTransaction(async (tx) => {
    const last = history.at(-1)!
    const id = await freeSiteId(tx, last.plan.site.name)
    // A name in a file is what somebody wrote into a file: it stays a text, and is nobody's account
    // here.
    const named = (name: string | null): string | null =>
      name === null ? null : `${name.replaceAll(FROM_A_FILE, '').slice(0, 60)}${FROM_A_FILE}`
    await tx.insert(sites).values({
      id,
      ...{ name: last.plan.site.name, head: last.number, clockSpeed: content.clockSpeed },
      ...doneByClock(last.plan),
    })
    await tx.insert(members).values({ siteId: id, accountId, role: 'owner' })
    for (const [i, { plan, author, ...r }] of history.entries())
      await tx.insert(revisions).values({
        siteId: id,
        ...r,
        ...stored(r.number, plan, history[i - 1]?.plan.version ?? null),
        authorName: named(author),
      })
    await listInventory(tx, id, last.plan)
    await listPrefixes(tx, id, last.plan)
    for (const s of content.steps)
      await tx.insert(stepsDone).values({
        siteId: id,
        stepId: s.stepId,
        doneAt: new Date(s.doneAt),
        readyAt: new Date(s.readyAt),
        whoName: named(s.by),
        note: s.note,
        said: s.said ?? null,
      })
    const kept = content.evidence.flatMap((e) => {
      const body = bodyOf(e)
      return body ? [{ ...e, body }] : []
    })
    for (const e of kept)
      await tx.insert(evidence).values({
        siteId: id,
        ...(e.id === undefined ? {} : { id: e.id }),
        kind: e.kind,
        source: e.source,
        at: new Date(e.at),
        revision: e.revision,
        whoName: named(e.by),
        stepId: e.stepId,
        body: e.body,
        file: e.file ? Buffer.from(e.file, 'base64') : null,
        mediaType: e.mediaType,
      })
    if (opened !== undefined) {
      const { [OWNER_KEY]: key, ...secrets } = secretsSchema.parse(JSON.parse(opened))
      for (const [ref, secret] of Object.entries(secrets)) await writeSecret(tx, id, ref, secret)
      if (content.owner && key) await ownerIn(tx, id, content.owner, key)
    }
    const claimed = await claimsIn(tx, id, last.plan, content.claims ?? [])
    // The trail of the other system is no trail of this one; it is kept as what it is, a document
    // that came with the site.
    await tx.insert(evidence).values({
      siteId: id,
      kind: 'note',
      source: 'file',
      revision: last.number,
      accountId,
      body: {
        text: `Audit trail of the system that this site came from, up to ${content.exportedAt}`,
        trail: content.trail,
      },
    })
    await tx.insert(log).values({
      siteId: id,
      accountId,
      what:
        `Brought in from a file of ${content.exportedAt.slice(0, 10)}: ${history.length} ` +
        `revisions, ${content.steps.length} steps, ${kept.length} pieces of evidence` +
        leftOut(content.evidence.length - kept.length) +
        (claimed === 0 ? '' : `; ${claimed} claimed devices are expected here`),
    })
    return { id, revision: last.number }
  })
}

/** Of evidence in a file; undefined where it is not what this version shows. */
const bodyOf = ({ kind, body }: SiteContent['evidence'][number]): EvidenceBody | undefined =>
  (kind === 'proof' ? proofBody : noteBody).safeParse(body).data
const noteBody = evidenceBody.extend({ trail: z.unknown().optional() })
const leftOut = (n: number): string =>
  n === 0 ? '' : `; ${n} that this version cannot read ${n === 1 ? 'was' : 'were'} left out`

/** What marks a name that nobody here vouches for; a file cannot add or take it away. */
const FROM_A_FILE = ' (from a file)'
const SITE_IDS = 7_350_003

/** An id that was used once is not used again: its log is still there. */
export async function freeSiteId(tx: Executor, name: string): Promise<string> {
  // Two sites that are opened at the same moment under one name get one id each.
  await tx.execute(sql`select pg_advisory_xact_lock(${SITE_IDS})`)
  const used = await tx
    .select({ id: sites.id })
    .from(sites)
    .union(
      tx
        .selectDistinct({ id: sql<string>`${log.siteId}` })
        .from(log)
        .where(isNotNull(log.siteId)),
    )
  return idFor(name, new Set(used.map((s) => s.id)))
}
