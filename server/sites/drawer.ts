/**
 * The drawer of sites: what each is by its plan, once for a revision, and how far it has come. A
 * site that cannot be read is shown as that, and hides no other.
 */
import type { readSites, ReplySent } from '@mast/api'
import { and, asc, desc, eq, inArray, sql } from 'drizzle-orm'
import { innermost, isDatabaseAway } from '../db/away'
import { db } from '../db/database'
import { deviceStates, evidence, members, sites, stepsDone } from '../db/schema'
import { outdated } from '@mast/core/bringup'
import type { ProofCount } from '@mast/core/proof'
import { Refused } from '../refusal'
import { inThread, TooLong } from '../work/workers'
import { KeptRevisions } from './kept'
import type { Glance } from './glance'

/**
 * How long a plan is looked at, and once more where that was not enough: a machine that is busy
 * with something else says nothing of the plan.
 */
const GLANCE_MS = 5000
const SECOND_GLANCE_MS = 15_000
type Kept = { glance: Glance } | { unread: string }
const kept = new KeptRevisions<Kept>(1000, 1)
/** Under way, for all who want the same. */
const looking = new Map<string, Promise<Kept | null>>()

type Line = ReplySent<typeof readSites>[number]
interface Row {
  readonly id: string
  readonly name: string
  readonly head: number
}

function glanceOf({ id, head }: Row, accountId: string): Promise<Kept | null> {
  const known = kept.get(id, head)
  if (known) return Promise.resolve(known)
  const key = `${id}@${head}`
  const begun = looking.get(key) ?? look(id, head, accountId).finally(() => looking.delete(key))
  looking.set(key, begun)
  return begun
}

/** Null where the site was removed meanwhile. */
async function look(siteId: string, revision: number, accountId: string): Promise<Kept | null> {
  const glanceWithin = (maxMs: number): Promise<Glance> =>
    inThread('glance', { siteId, revision }, { accountId: null, maxMs })
  try {
    return kept.keep(siteId, revision, {
      glance: await glanceWithin(GLANCE_MS).catch((error: unknown) => {
        if (error instanceof TooLong) return glanceWithin(SECOND_GLANCE_MS)
        throw error
      }),
    })
  } catch (error) {
    // Too many at once for now, or no database: that says nothing of the plan.
    if (isDatabaseAway(error) || error instanceof Refused) throw error
    if (error instanceof TooLong)
      return kept.keep(siteId, revision, {
        unread: 'its plan takes too long to look through; open it and take parts out',
      })
    console.error(
      `the plan of ${siteId}, revision ${revision}, cannot be read (asked by ${accountId}): ` +
        `${innermost(error).message.split('\n')[0]!.slice(0, 300)}`,
    )
    const [there] = await db().select({ id: sites.id }).from(sites).where(eq(sites.id, siteId))
    return there
      ? { unread: 'its plan cannot be read; the reason is in the log of the server' }
      : null
  }
}

const nothing = {
  country: '',
  devices: 0,
  segments: 0,
  adoptable: 0,
  inService: 0,
  marks: {},
  steps: 0,
  stepsDone: 0,
  nextStep: null,
  proof: null,
}

/** @param slow comes when there is no more time to wait for it */
async function lineOf(row: Row, accountId: string, slow: Promise<'slow'>): Promise<Line | null> {
  const { id, name, head } = row
  const found = await Promise.race([glanceOf(row, accountId), slow])
  if (found === null) return null
  if (found === 'slow')
    return { id, revision: head, name, ...nothing, unread: null, isLooking: true }
  if ('unread' in found)
    return { id, revision: head, name, ...nothing, unread: found.unread, isLooking: false }
  const { glance } = found
  const inService =
    glance.adoptable.length === 0
      ? []
      : await db()
          .select({ id: deviceStates.deviceId })
          .from(deviceStates)
          .where(
            and(
              eq(deviceStates.siteId, id),
              eq(deviceStates.state, 'in-service'),
              inArray(deviceStates.deviceId, [...glance.adoptable]),
            ),
          )
  const ticked = await db()
    .select({ stepId: stepsDone.stepId, said: stepsDone.said })
    .from(stepsDone)
    .where(eq(stepsDone.siteId, id))
  const steps = new Map(glance.steps.map((s) => [s.id, s]))
  const done = new Set(ticked.map((s) => s.stepId))
  for (const open of outdated(
    (step) => steps.get(step),
    ticked,
    new Set(inService.map((d) => d.id)),
  ))
    done.delete(open)
  const [proof] = await db()
    .select({
      at: evidence.at,
      revision: evidence.revision,
      count: sql<ProofCount | null>`${evidence.body} -> 'count'`,
    })
    .from(evidence)
    .where(and(eq(evidence.siteId, id), eq(evidence.kind, 'proof')))
    .orderBy(desc(evidence.at))
    .limit(1)
  return {
    id,
    revision: head,
    name: glance.name,
    country: glance.country,
    devices: glance.devices,
    segments: glance.segments,
    adoptable: glance.adoptable.length,
    inService: inService.length,
    marks: glance.marks,
    steps: glance.steps.length,
    stepsDone: glance.steps.filter((s) => done.has(s.id)).length,
    nextStep: glance.steps.find((s) => !done.has(s.id))?.title ?? null,
    proof: proof?.count ? { at: proof.at, revision: proof.revision, ...proof.count } : null,
    unread: null,
    isLooking: false,
  }
}

/**
 * How many sites are looked at beside each other: one account's drawer leaves connections to the
 * others.
 */
const BESIDE = 3
const PATIENCE_MS = 1200

export async function drawerOf(accountId: string): Promise<Line[]> {
  const rows = await db()
    .select({ id: sites.id, name: sites.name, head: sites.head })
    .from(sites)
    .innerJoin(members, eq(members.siteId, sites.id))
    .where(eq(members.accountId, accountId))
    .orderBy(asc(sites.createdAt))
  const lines: (Line | null)[] = []
  let timer: NodeJS.Timeout | undefined
  // What is not looked through by then is told as that, and asked for again.
  const slow = new Promise<'slow'>((resolve) => {
    timer = setTimeout(() => resolve('slow'), PATIENCE_MS)
  })
  let next = 0
  await Promise.all(
    Array.from({ length: BESIDE }, async () => {
      for (let i = next++; i < rows.length; i = next++)
        lines[i] = await lineOf(rows[i]!, accountId, slow)
    }),
  )
  clearTimeout(timer)
  return lines.filter((l) => l !== null)
}
