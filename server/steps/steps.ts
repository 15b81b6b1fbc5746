/** Steps of the run sheet: what was done when, by whom, and until when its wait runs. */
import { and, eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import { recoveryStepOf, runSheetOf, type Step } from '@mast/core/bringup'
import type { SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { lockDevice, advance, rollOf } from '../adoption/devices'
import { db, inTransaction } from '../db/database'
import { accounts, evidence, log, sites, stepsDone } from '../db/schema'
import { notify } from '../live/notices'
import { firstRelease } from '../releases/asked'
import { documentOf } from '../releases/documents'
import { targetOf, toldBy, type ToldNow } from '../releases/targets'
import { planOf } from '../sites/plans'
import { doByHand } from '../standins/client'

export interface StepRecord {
  readonly stepId: string
  readonly doneAt: Date
  readonly readyAt: Date
  readonly by: string | null
  readonly note: string
}

export async function stepsOf(siteId: string): Promise<StepRecord[]> {
  return db()
    .select({
      stepId: stepsDone.stepId,
      doneAt: stepsDone.doneAt,
      readyAt: stepsDone.readyAt,
      by: sql<string | null>`coalesce(${accounts.name}, ${stepsDone.whoName})`,
      note: stepsDone.note,
    })
    .from(stepsDone)
    .leftJoin(accounts, eq(accounts.id, stepsDone.accountId))
    .where(eq(stepsDone.siteId, siteId))
}

/** Run sheets of plans that are kept. */
const sheets = new WeakMap<SitePlan, ReadonlyMap<string, Step>>()

async function stepIn(
  siteId: string,
  stepId: string,
): Promise<{ step: Step | undefined; revision: number }> {
  const { plan, revision } = await planOf(db(), siteId)
  const model = siteModel(plan)
  const sheet = sheets.get(plan) ?? new Map(runSheetOf(model).map((s) => [s.id, s]))
  sheets.set(plan, sheet)
  return { step: sheet.get(stepId) ?? recoveryStepOf(model, stepId), revision }
}

const OLDEST_MS = 30 * 86_400_000
const AHEAD_MS = 5 * 60_000
/**
 * When something was done in the field: not in the future, give or take a wrong clock, and not long
 * ago.
 */
export const doneAtSchema = z.iso
  .datetime()
  .transform((t) => new Date(t))
  .refine(
    (t) => t.getTime() < Date.now() + AHEAD_MS && t.getTime() > Date.now() - OLDEST_MS,
    'a time in the last 30 days is needed; is the clock of this device right?',
  )

export type StepOutcome = { ok: true } | { ok: false; reason: string }

interface Given {
  readonly note: string
  readonly acknowledged: boolean
  readonly at?: Date | undefined
}

/** Why a step cannot be ticked now, or undefined. */
async function refusal(
  siteId: string,
  step: Step,
  acknowledged: boolean,
): Promise<string | undefined> {
  if (step.blockedBy) return step.blockedBy
  const done = new Set((await stepsOf(siteId)).map((s) => s.stepId))
  const missing = step.needs.filter((n) => !done.has(n))
  if (missing.length > 0) return `first: ${missing.join(', ')}`
  if (step.safety && !acknowledged) return `acknowledge the caution first: ${step.safety}`
  if (step.follows) {
    const state = (await rollOf(siteId)).devices.find((d) => d.deviceId === step.follows!.deviceId)
    const reached =
      step.follows.state === 'claimed' ? state?.claimed : state?.state === 'in-service'
    if (!reached)
      return step.follows.state === 'claimed'
        ? 'claim it in Adopt; this step then ticks itself'
        : `it is ${state?.state ?? 'planned'}, not in service yet`
  }
  return undefined
}

async function toldFor(siteId: string, deviceId: string): Promise<ToldNow | null> {
  const target = await targetOf(siteId, deviceId)
  return target ? toldBy(target) : null
}

export async function tick(
  siteId: string,
  stepId: string,
  accountId: string,
  given: Given,
): Promise<StepOutcome> {
  const { step, revision } = await stepIn(siteId, stepId)
  if (!step)
    return { ok: false, reason: 'this step is not on the run sheet; the plan may have changed' }
  if ((await stepsOf(siteId)).some((s) => s.stepId === stepId)) return { ok: true }
  const reason = await refusal(siteId, step, given.acknowledged)
  if (reason) return { ok: false, reason }
  const [site] = await db()
    .select({ clockSpeed: sites.clockSpeed })
    .from(sites)
    .where(eq(sites.id, siteId))
  const doneAt = given.at ?? new Date()
  const readyAt = new Date(doneAt.getTime() + (step.waitSeconds * 1000) / (site?.clockSpeed ?? 1))
  const told =
    stepId.endsWith('.backup') && step.deviceId ? await toldFor(siteId, step.deviceId) : undefined
  await inTransaction(async (tx) => {
    await tx
      .insert(stepsDone)
      .values({ siteId, stepId, accountId, note: given.note, doneAt, readyAt })
      .onConflictDoNothing()
    await tx.insert(log).values({
      siteId,
      accountId,
      what: `Done: ${step.title}${given.note ? ` (${given.note})` : ''}`,
    })
    if (told)
      await tx.insert(evidence).values({
        siteId,
        kind: 'backup',
        source: 'controller',
        revision,
        release: told.release,
        accountId,
        body: { deviceId: step.deviceId, digest: told.digest },
      })
    if (stepId.endsWith('.bench-power') && step.deviceId) {
      const row = await lockDevice(tx, siteId, step.deviceId)
      if (row.state === 'planned') await advance(tx, row, 'power', {}, 'given power on the bench')
    }
    await notify(tx, { site: siteId, topic: 'steps' })
  })
  return { ok: true }
}

export async function untick(siteId: string, stepId: string, accountId: string): Promise<void> {
  await inTransaction(async (tx) => {
    const gone = await tx
      .delete(stepsDone)
      .where(and(eq(stepsDone.siteId, siteId), eq(stepsDone.stepId, stepId)))
      .returning({ stepId: stepsDone.stepId })
    if (gone.length === 0) return
    await tx.insert(log).values({ siteId, accountId, what: `Taken back: ${stepId}` })
    await notify(tx, { site: siteId, topic: 'steps' })
  })
}

/** Lets the stand-ins do a step with their hands, then ticks it. */
export async function carryOut(
  siteId: string,
  stepId: string,
  accountId: string,
  given: Given,
): Promise<StepOutcome> {
  const { step } = await stepIn(siteId, stepId)
  if (!step)
    return { ok: false, reason: 'this step is not on the run sheet; the plan may have changed' }
  const reason = await refusal(siteId, step, given.acknowledged)
  if (reason) return { ok: false, reason }
  if (step.action) {
    const { action } = step
    const isLoading = action.kind === 'page' && action.act === 'configuration'
    const sent = isLoading ? await firstRelease(siteId, accountId) : undefined
    if (sent && !sent.ok) return { ok: false, reason: sent.reasons[0]! }
    const hand = isLoading
      ? { ...action, configuration: await configurationFor(siteId, action.deviceId) }
      : action
    const reply = await doByHand(siteId, hand as Parameters<typeof doByHand>[1])
    if (!reply.ok) return { ok: false, reason: reply.text }
  }
  return tick(siteId, stepId, accountId, given)
}

async function configurationFor(siteId: string, deviceId: string): Promise<unknown> {
  const told = await toldFor(siteId, deviceId)
  return told && documentOf(siteId, told.digest)
}
