/** Steps of the run sheet: what was done when, by whom, and until when its wait runs. */
import { and, desc, eq, sql } from 'drizzle-orm'
import {
  outdatedOn,
  recoveryStepOf,
  runSheetOf,
  saysOf,
  whyBlocked,
  type Step,
} from '@mast/core/bringup'
import type { SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { advance, lockDevice } from '../adoption/devices'
import { db, inTransaction, type Executor } from '../db/database'
import { accounts, deviceStates, evidence, log, sites, stepsDone } from '../db/schema'
import { notify } from '../live/notices'
import { firstRelease } from '../releases/asked'
import { documentOf } from '../releases/documents'
import { targetOf, toldBy, type ToldNow } from '../releases/targets'
import { Refused, siteIsGone } from '../refusal'
import { planOf } from '../sites/plans'
import { doByHand } from '../standins/client'

type Reader = Pick<Executor, 'select'>
const refuse = (why: string): Refused => new Refused('not-possible', why)

export const stepsOf = (at: Reader, siteId: string) =>
  at
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

/** Run sheets of plans that are kept. */
const runSheets = new WeakMap<SitePlan, ReadonlyMap<string, Step>>()

interface OnSheet {
  readonly step: Step
  readonly revision: number
  /** When each step was done, of those that say the same still. */
  readonly done: ReadonlyMap<string, Date>
}

/** @throws Refused where the step is not on the run sheet of the newest plan. */
async function stepIn(at: Executor, siteId: string, stepId: string): Promise<OnSheet> {
  const { plan, revision } = await planOf(at, siteId)
  const model = siteModel(plan)
  const sheet = runSheets.get(plan) ?? new Map(runSheetOf(model).map((s) => [s.id, s]))
  runSheets.set(plan, sheet)
  const step = sheet.get(stepId) ?? recoveryStepOf(model, stepId)
  if (!step) throw refuse('this step is not on the run sheet; the plan may have changed')
  const ticked = await stepsOf(at, siteId)
  const running = await at
    .select({ id: deviceStates.deviceId })
    .from(deviceStates)
    .where(and(eq(deviceStates.siteId, siteId), eq(deviceStates.state, 'in-service')))
  const open = new Set(outdatedOn(sheet, ticked, new Set(running.map((d) => d.id))))
  const done = new Map(
    ticked.flatMap((s) => (open.has(s.stepId) ? [] : [[s.stepId, s.doneAt] as const])),
  )
  return { step, revision, done }
}

interface Given {
  readonly note: string
  readonly acknowledged: boolean
  readonly at?: Date | undefined
  readonly said?: string | null
}

/** Whoever ticks or takes back does so one after the other. */
async function held(tx: Executor, siteId: string): Promise<{ clockSpeed: number }> {
  const [site] = await tx
    .select({ clockSpeed: sites.clockSpeed })
    .from(sites)
    .where(eq(sites.id, siteId))
    .for('no key update')
  if (!site) throw siteIsGone()
  return site
}

/** @throws Refused with why a step cannot be ticked now. */
async function checkTurn(
  at: Executor,
  siteId: string,
  step: Step,
  done: ReadonlyMap<string, Date>,
  acknowledged: boolean,
): Promise<void> {
  const blocked = whyBlocked(step)
  if (blocked) throw refuse(blocked)
  const missing = step.needs.filter((n) => !done.has(n))
  if (missing.length > 0) throw refuse(`first: ${missing.join(', ')}`)
  if (step.safety && !acknowledged) throw refuse(`acknowledge the caution first: ${step.safety}`)
  if (!step.follows) return
  if (step.follows.kind === 'proof') {
    const [proof] = await at
      .select({ at: evidence.at })
      .from(evidence)
      .where(and(eq(evidence.siteId, siteId), eq(evidence.kind, 'proof')))
      .orderBy(desc(evidence.at))
      .limit(1)
    const lastDone = Math.max(0, ...step.needs.map((n) => done.get(n)!.getTime()))
    if (!proof || proof.at.getTime() < lastDone)
      throw refuse('run it in Prove; this step then ticks itself')
    return
  }
  const [device] = await at
    .select({ state: deviceStates.state, serial: deviceStates.claimedSerial })
    .from(deviceStates)
    .where(and(eq(deviceStates.siteId, siteId), eq(deviceStates.deviceId, step.follows.deviceId)))
  if (step.follows.state === 'claimed' && device?.serial == null)
    throw refuse('claim it in Adopt; this step then ticks itself')
  if (step.follows.state !== 'claimed' && device?.state !== 'in-service')
    throw refuse(`it is ${device?.state ?? 'planned'}, not in service yet`)
}

async function toldFor(at: Executor, siteId: string, deviceId: string): Promise<ToldNow | null> {
  const target = await targetOf(at, siteId, deviceId)
  return target ? toldBy(target) : null
}

/** Ticked twice, it is ticked once. @throws Refused where it is not its turn. */
export async function tick(
  siteId: string,
  stepId: string,
  accountId: string,
  given: Given,
): Promise<void> {
  await inTransaction(async (tx) => {
    const { clockSpeed } = await held(tx, siteId)
    const { step, revision, done } = await stepIn(tx, siteId, stepId)
    if (done.has(stepId)) return
    await checkTurn(tx, siteId, step, done, given.acknowledged)
    const doneAt = given.at ?? new Date()
    const readyAt = new Date(doneAt.getTime() + (step.waitSeconds * 1000) / clockSpeed)
    const { note } = given
    const said = given.said ?? saysOf(step)
    // Done again since the plan changed: it stays when it was done first, as what came after it
    // came after that.
    await tx
      .insert(stepsDone)
      .values({ siteId, stepId, accountId, note, doneAt, readyAt, said })
      .onConflictDoUpdate({
        target: [stepsDone.siteId, stepsDone.stepId],
        set: { readyAt, said, ...(note ? { note } : {}) },
      })
    await tx.insert(log).values({
      siteId,
      accountId,
      what: `Done: ${step.title}${given.note ? ` (${given.note})` : ''}`,
    })
    if (step.deviceId && step.kind === 'backup') {
      const told = await toldFor(tx, siteId, step.deviceId)
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
    }
    if (step.deviceId && step.kind === 'bench-power') {
      const row = await lockDevice(tx, siteId, step.deviceId)
      if (row.state === 'planned') await advance(tx, row, 'power', {}, 'given power on the bench')
    }
    await notify(tx, { site: siteId, topic: 'steps' })
  })
}

export async function untick(siteId: string, stepId: string, accountId: string): Promise<void> {
  await inTransaction(async (tx) => {
    await held(tx, siteId)
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
): Promise<void> {
  const step = await inTransaction(async (tx) => {
    const found = await stepIn(tx, siteId, stepId)
    await checkTurn(tx, siteId, found.step, found.done, given.acknowledged)
    return found.step
  })
  if (step.action) {
    const { action } = step
    const isLoading = action.kind === 'page' && action.act === 'configuration'
    if (isLoading) await firstRelease(siteId, accountId)
    const hand = isLoading
      ? { ...action, configuration: await configurationFor(siteId, action.deviceId) }
      : action
    const reply = await doByHand(siteId, hand as Parameters<typeof doByHand>[1])
    if (!reply.ok) throw refuse(reply.text)
  }
  await tick(siteId, stepId, accountId, given)
}

async function configurationFor(siteId: string, deviceId: string): Promise<unknown> {
  const told = await toldFor(db(), siteId, deviceId)
  return told && documentOf(siteId, told.digest)
}
