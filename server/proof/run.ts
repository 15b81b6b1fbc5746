/** Runs the proof of a site on its stand-ins and keeps it as evidence. */
import type { Proof } from '@mast/api'
import { and, desc, eq, sql } from 'drizzle-orm'
import { causesOf, countOf, judge, proofTestsOf } from '@mast/core/proof'
import type { AdoptionState } from '@mast/core/adoption'
import { siteModel } from '@mast/core/topology'
import type { Observation, Probe } from '@mast/protocol'
import { rollOf } from '../adoption/devices'
import { db, inTransaction } from '../db/database'
import { evidence, log } from '../db/schema'
import { notify } from '../live/notices'
import { latestRelease, standingRelease } from '../releases/standing'
import { Refused } from '../refusal'
import { planAt, planOf } from '../sites/plans'
import { probe, show } from '../standins/client'
import { inThread, TooLong } from '../work/workers'

type ProofRecord = Proof['body']

/** More would take the stand-ins hours and nobody would read them. */
const MOST_TESTS = 100_000
const WORK_MS = 30_000
/** How often it is begun anew where the plan changed under it. */
const MOST_TRIES = 4
/** Who waits for an answer does not wait longer, ms. */
const LONGEST_MS = 240_000

/** What of a plan is to be asked of the stand-ins; what a thread does of a proof before. */
export async function testsToAsk(
  siteId: string,
  revision: number,
  only: readonly string[] | null,
): Promise<{ probes: Probe[] } | { tooMany: number }> {
  const tests = proofTestsOf(siteModel(await planAt(db(), siteId, revision)))
  if (tests.length > MOST_TESTS) return { tooMany: tests.length }
  const wanted = only && new Set(only)
  return {
    probes: tests.flatMap((t) => ((!wanted || wanted.has(t.id)) && t.probe ? [t.probe] : [])),
  }
}

/** Judges what the stand-ins saw and keeps it; what a thread does of a proof afterwards. */
export async function keepProof({
  siteId,
  revision,
  release,
  accountId,
  only,
  observations,
}: {
  siteId: string
  revision: number
  /** That devices have; null before the first. */ release: number | null
  accountId: string
  only: readonly string[] | null
  observations: readonly Observation[]
}): Promise<ProofKept> {
  const model = siteModel(await planAt(db(), siteId, revision))
  const tests = proofTestsOf(model)
  const wanted = only && new Set(only)
  const previous = only ? await latestProof(siteId) : undefined
  // Where it is gone meanwhile, nothing of it is kept.
  const kept = wanted
    ? (previous?.body.results ?? []).flatMap((r) =>
        r.observation && !wanted.has(r.test.id) ? [r.observation] : [],
      )
    : []
  const roll = await rollOf(siteId)
  const states = Object.fromEntries(
    roll.devices.map((d): [string, AdoptionState] => [d.deviceId, d.state]),
  )
  const results = judge(tests, [...kept, ...observations], states)
  const causes = causesOf(model, results, { devices: roll.devices, foreign: roll.foreign })
  const body: ProofRecord = { results, causes, count: countOf(results) }
  return inTransaction(async (tx) => {
    const [row] = await tx
      .insert(evidence)
      .values({ siteId, kind: 'proof', source: 'standins', revision, release, accountId, body })
      .returning({ id: evidence.id, at: evidence.at })
    const { count } = body
    await tx.insert(log).values({
      siteId,
      accountId,
      what:
        `Proof of ${release === null ? `revision ${revision}` : `release ${release}`}: ` +
        `${count.asPlanned} as planned, ${count.contradicts} contradict, ${count.untested} ` +
        'untested',
    })
    await notify(tx, { site: siteId, topic: 'evidence' })
    return { id: row!.id, at: row!.at, revision, release, body }
  })
}

export interface ProofKept {
  readonly id: string
  readonly at: Date
  readonly revision: number
  readonly release: number | null
  readonly body: ProofRecord
}

/**
 * Worked out in threads before and after; the stand-ins take their own time in between.
 * @throws Refused where it is too much
 */
export async function prove(
  siteId: string,
  accountId: string,
  only: readonly string[] | null,
  tries = MOST_TRIES,
  untilMs = Date.now() + LONGEST_MS,
): Promise<ProofKept> {
  const standing = await standingRelease(db(), siteId)
  const latest = await latestRelease(siteId)
  if (latest?.state === 'sending')
    throw new Refused(
      'out-of-turn',
      `release ${latest.number} is being sent to the devices; prove when it is done`,
    )
  const { revision } = standing ?? (await planOf(db(), siteId))
  const release = standing?.number ?? null
  const [last] = only
    ? await db()
        .select({ revision: evidence.revision, release: evidence.release })
        .from(evidence)
        .where(and(eq(evidence.siteId, siteId), eq(evidence.kind, 'proof')))
        .orderBy(desc(evidence.at))
        .limit(1)
    : []
  const wanted = last?.revision === revision && last.release === release ? only : null
  const how = { accountId, maxMs: WORK_MS }
  const tooMuch = (why: string): Refused =>
    new Refused(
      'not-possible',
      `the proof of this plan is too much: ${why}. Divide it into several sites`,
    )
  const again = (): Promise<ProofKept> => {
    if (tries === 0 || Date.now() > untilMs)
      throw new Refused(
        'out-of-turn',
        'the plan was changed each time it was to be proven; prove it when nobody changes it',
      )
    return prove(siteId, accountId, only, tries - 1, untilMs)
  }
  try {
    const asked = await inThread('testsOf', { siteId, revision, only: wanted }, how)
    if ('tooMany' in asked)
      throw tooMuch(
        `${asked.tooMany.toLocaleString('en-GB')} tests, and the most are ${MOST_TESTS.toLocaleString('en-GB')}`,
      )
    // Whoever saved or sent meanwhile made it another proof.
    const shown = await show(siteId)
    if (shown.release !== (release ?? 0) || (release === null && shown.revision !== revision))
      return await again()
    return await inThread(
      'judgeProof',
      {
        siteId,
        revision,
        release,
        accountId,
        only: wanted,
        observations: await probe(siteId, asked.probes, untilMs),
      },
      how,
    )
  } catch (error) {
    if (error instanceof TooLong) throw tooMuch('working it out takes too long')
    throw error
  }
}

export async function latestProof(siteId: string): Promise<ProofKept | undefined> {
  const [row] = await db()
    .select({
      id: evidence.id,
      at: evidence.at,
      revision: evidence.revision,
      release: evidence.release,
      body: sql<ProofRecord>`${evidence.body}`,
    })
    .from(evidence)
    .where(and(eq(evidence.siteId, siteId), eq(evidence.kind, 'proof')))
    .orderBy(desc(evidence.at))
    .limit(1)
  return row
}
