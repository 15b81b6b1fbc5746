/**
 * Waves of a release under way: each report of one of its devices, and the watch beside them, moves
 * it on.
 */
import { and, asc, eq, inArray, isNull, ne, sql } from 'drizzle-orm'
import { judgeWave } from '@mast/core/release'
import { db, inTransaction, type Executor } from '../db/database'
import { deviceEvents, deviceStates, log, releases, sites, targets } from '../db/schema'
import { notify } from '../live/notices'
import { Refused } from '../refusal'
import { planAt } from '../sites/plans'
import { liveDevices } from './live'

type Release = typeof releases.$inferSelect

/**
 * Lets the devices of a wave fetch, and notes who else is heard now. Beyond the last wave the
 * release is done.
 */
export async function openWave(
  tx: Executor,
  siteId: string,
  number: number,
  wave: number,
): Promise<void> {
  const at = and(eq(releases.siteId, siteId), eq(releases.number, number))
  const [release] = await tx.select().from(releases).where(at)
  if (!release) return
  if (wave > release.waves) {
    if (release.state === 'sending') {
      await tx
        .update(targets)
        .set({ state: 'kept' })
        .where(
          and(
            eq(targets.siteId, siteId),
            eq(targets.release, number),
            eq(targets.state, 'waiting'),
          ),
        )
      await tx.update(releases).set({ state: 'done', endedAt: new Date() }).where(at)
      await tx.insert(log).values({
        siteId,
        accountId: null,
        what: release.goesOver
          ? `With release ${number} its devices went over to another controller`
          : `Release ${number} is on all its devices`,
      })
    }
    for (const topic of ['releases', 'devices'] as const) await notify(tx, { site: siteId, topic })
    return
  }
  const [site] = await tx
    .select({ clockSpeed: sites.clockSpeed })
    .from(sites)
    .where(eq(sites.id, siteId))
  const members = new Set(
    (
      await tx
        .update(targets)
        .set({ state: 'open' })
        .where(and(eq(targets.siteId, siteId), eq(targets.release, number), eq(targets.wave, wave)))
        .returning({ deviceId: targets.deviceId })
    ).map((t) => t.deviceId),
  )
  const beside = (await liveDevices(tx, siteId, site!.clockSpeed)).filter(
    (id) => !members.has(id) && !release.moved.includes(id),
  )
  await tx
    .update(releases)
    .set({ wave, openedAt: new Date(), applyAt: null, witnesses: beside })
    .where(at)
  await notify(tx, { site: siteId, topic: 'releases' })
}

/**
 * Before the log's turn, so that who removes the site waits for this and not each for the other.
 */
async function heldSite(tx: Executor, siteId: string): Promise<{ clockSpeed: number } | undefined> {
  const [site] = await tx
    .select({ clockSpeed: sites.clockSpeed })
    .from(sites)
    .where(eq(sites.id, siteId))
    .for('key share')
  return site
}

/** Looks at the open wave of a site's release and does what is due. */
export async function moveWave(siteId: string): Promise<void> {
  await inTransaction(async (tx) => {
    const site = await heldSite(tx, siteId)
    const [release] = await tx
      .select()
      .from(releases)
      .where(and(eq(releases.siteId, siteId), eq(releases.state, 'sending')))
      .for('update')
    if (!site || !release) return
    const members = await tx
      .select()
      .from(targets)
      .where(
        and(
          eq(targets.siteId, siteId),
          eq(targets.release, release.number),
          eq(targets.wave, release.wave),
        ),
      )
    const heard =
      release.applyAt === null
        ? []
        : await tx
            .select({ deviceId: deviceStates.deviceId, at: deviceStates.lastHeardAt })
            .from(deviceStates)
            .where(
              and(
                eq(deviceStates.siteId, siteId),
                inArray(deviceStates.deviceId, [
                  ...release.witnesses,
                  ...members.map((m) => m.deviceId),
                ]),
              ),
            )
    const heardOf = new Map(heard.map((h) => [h.deviceId, h.at]))
    const verdict = judgeWave(
      {
        openedAtMs: release.openedAt!.getTime(),
        applyAtMs: release.applyAt?.getTime() ?? null,
        goesOver: release.goesOver,
        witnesses: release.witnesses.map((id) => ({
          deviceId: id,
          heardAtMs: heardOf.get(id)?.getTime() ?? 0,
        })),
        members: members.map((m) => ({
          deviceId: m.deviceId,
          heldAtMs: m.heldAt?.getTime() ?? null,
          appliedAtMs: m.appliedAt?.getTime() ?? null,
          wentBack: m.wentBack,
          heardAtMs: heardOf.get(m.deviceId)?.getTime() ?? null,
        })),
      },
      release.times,
      Date.now(),
      site.clockSpeed,
    )
    const at = and(eq(releases.siteId, siteId), eq(releases.number, release.number))
    if (verdict.kind === 'apply') {
      await tx
        .update(releases)
        .set({ applyAt: new Date(verdict.atMs) })
        .where(at)
      await notify(tx, { site: siteId, topic: 'releases' })
    } else if (verdict.kind === 'keep') {
      await tx
        .update(targets)
        .set({ state: 'kept' })
        .where(
          and(
            eq(targets.siteId, siteId),
            eq(targets.release, release.number),
            eq(targets.wave, release.wave),
          ),
        )
      await openWave(tx, siteId, release.number, release.wave + 1)
    } else if (verdict.kind === 'back') {
      const plan = await planAt(tx, siteId, release.revision)
      const names = verdict.deviceIds
        .slice(0, 5)
        .map((id) => plan.devices[id]?.name ?? id)
        .join(', ')
      await takeBack(tx, release, `${names}${names ? ' ' : 'it '}${verdict.why}`, null)
    }
  })
}

/** Stops a release: who has not kept it is told again what it had. */
async function takeBack(
  tx: Executor,
  release: Release,
  why: string,
  accountId: string | null,
): Promise<void> {
  const { siteId, number } = release
  const mine = and(
    eq(targets.siteId, siteId),
    eq(targets.release, number),
    ne(targets.state, 'kept'),
  )
  const back = await tx.select().from(targets).where(mine).orderBy(asc(targets.deviceId))
  await tx.delete(targets).where(and(mine, isNull(targets.before)))
  await tx.execute(sql`update targets set release = (before ->> 'release')::int, digest = before ->>
    'digest', firmware = before ->> 'firmware', profile_id = before ->> 'profileId', trial_seconds =
    (before ->> 'trialSeconds')::int,
    state = 'kept', wave = 0, held_at = null, applied_at = null, went_back = false, before = null where
      site_id = ${siteId} and release = ${number} and state <> 'kept'`)
  await tx
    .update(releases)
    .set({ state: 'stopped', why, endedAt: new Date() })
    .where(and(eq(releases.siteId, siteId), eq(releases.number, number)))
  for (const t of back)
    if (t.state === 'open' && t.appliedAt)
      await tx.insert(deviceEvents).values({
        siteId,
        deviceId: t.deviceId,
        event: 'taken-back',
        fromState: 'loading',
        toState: 'loading',
        detail: `release ${number} was stopped`,
      })
  await tx.insert(log).values({
    siteId,
    accountId,
    what: `Release ${number} was stopped in wave ${release.wave} of ${release.waves}: ${why}`,
  })
  for (const topic of ['releases', 'devices'] as const) await notify(tx, { site: siteId, topic })
}

/** By a person. @throws Refused where there is nothing to stop. */
export async function stop(siteId: string, number: number, accountId: string): Promise<void> {
  await inTransaction(async (tx) => {
    await heldSite(tx, siteId)
    const [release] = await tx
      .select()
      .from(releases)
      .where(and(eq(releases.siteId, siteId), eq(releases.number, number)))
      .for('update')
    if (!release) throw new Refused('not-possible', `there is no release ${number}`)
    if (release.state !== 'sending')
      throw new Refused('not-possible', `release ${number} is ${release.state} already`)
    await takeBack(tx, release, 'by hand', accountId)
  })
}

/** Times run out also where nobody reports. */
export async function sweepReleases(): Promise<void> {
  const under = await db()
    .select({ siteId: releases.siteId })
    .from(releases)
    .where(eq(releases.state, 'sending'))
  let failed: unknown
  // What is wrong with one site is no reason to let the others wait.
  for (const { siteId } of under)
    await moveWave(siteId).catch((error: unknown) => {
      failed ??= error
    })
  if (failed) throw failed
}
