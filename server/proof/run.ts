/** Runs the proof of a site on its stand-ins and keeps it as evidence. */
import { and, desc, eq } from 'drizzle-orm'
import { causesOf, countOf, judge, proofTestsOf, type Cause, type ProofCount, type ProofResult } from '@mast/core/proof'
import type { AdoptionState } from '@mast/core/adoption'
import { siteModel } from '@mast/core/topology'
import { rollOf } from '../adoption/devices'
import { db, inTransaction } from '../db/database'
import { evidence, log } from '../db/schema'
import { notify } from '../live/notices'
import { probe, show } from '../standins/client'

export interface ProofRecord { readonly results: ProofResult[]; readonly causes: Cause[]; readonly count: ProofCount }

export async function runProof(siteId: string, accountId: string, only: readonly string[] | null): Promise<{ id: string; at: Date; revision: number; body: ProofRecord }> {
  const { plan, revision } = await show(siteId)
  const model = siteModel(plan)
  const tests = proofTestsOf(model)
  const previous = only ? await latestProof(siteId) : undefined
  const wanted = only && previous?.revision === revision ? new Set(only) : null
  const asked = tests.filter((t) => !wanted || wanted.has(t.id))
  const observations = await probe(siteId, asked.flatMap((t) => t.probe ?? []))
  const kept = wanted ? previous!.body.results.flatMap((r) => (r.observation && !wanted.has(r.test.id) ? [r.observation] : [])) : []
  const roll = await rollOf(siteId)
  const states = Object.fromEntries(roll.devices.map((d): [string, AdoptionState] => [d.deviceId, d.state]))
  const results = judge(tests, [...kept, ...observations], states)
  const causes = causesOf(model, results, { devices: roll.devices, foreign: roll.foreign })
  const body: ProofRecord = { results, causes, count: countOf(results) }
  return inTransaction(async (tx) => {
    const [row] = await tx.insert(evidence).values({ siteId, kind: 'proof', source: 'standins', revision, accountId, body }).returning({ id: evidence.id, at: evidence.at })
    const { count } = body
    await tx.insert(log).values({ siteId, accountId, what: `Proof of revision ${revision}: ${count.asPlanned} as planned, ${count.contradicts} contradict, ${count.untested} untested` })
    await notify(tx, { site: siteId, topic: 'evidence' })
    return { id: row!.id, at: row!.at, revision, body }
  })
}

export async function latestProof(siteId: string): Promise<{ id: string; at: Date; revision: number; body: ProofRecord } | undefined> {
  const [row] = await db().select().from(evidence).where(and(eq(evidence.siteId, siteId), eq(evidence.kind, 'proof'))).orderBy(desc(evidence.at)).limit(1)
  return row && { id: row.id, at: row.at, revision: row.revision, body: row.body as ProofRecord }
}
