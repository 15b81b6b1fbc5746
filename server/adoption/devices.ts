/**
 * Device states in the database: every change goes through the machine in core/adoption and leaves
 * an event.
 */
import type { ForeignDevice, RollDevice } from '@mast/api'
import { and, asc, desc, eq, inArray, isNotNull, isNull, lt, ne, sql } from 'drizzle-orm'
import {
  callerSilenceMs,
  LOADING_SECONDS,
  nearestSerial,
  silenceMs,
  transition,
  type AdoptionEvent,
  type AdoptionState,
  type DesiredOutcome,
} from '@mast/core/adoption'
import { recoveryPrefix } from '@mast/core/bringup'
import { own, type SitePlan } from '@mast/core/plan'
import { siteModel, type SiteModel } from '@mast/core/topology'
import { db, inTransaction, type Executor } from '../db/database'
import {
  callers,
  deviceCommands,
  deviceEvents,
  deviceStates,
  inventory,
  sites,
  stepsDone,
} from '../db/schema'
import { siteIsGone } from '../refusal'
import { notify } from '../live/notices'
import { planAt } from '../sites/plans'
import { callersOf, sweepCallers } from './callers'
import { targetsOf, toldBy } from '../releases/targets'
import { desiredAt } from './desired'

export type DeviceRow = typeof deviceStates.$inferSelect

/** The row of a device, made at its first event, locked for the transaction. */
export async function lockDevice(
  tx: Executor,
  siteId: string,
  deviceId: string,
): Promise<DeviceRow> {
  await tx.insert(deviceStates).values({ siteId, deviceId }).onConflictDoNothing()
  const [row] = await tx
    .select()
    .from(deviceStates)
    .where(and(eq(deviceStates.siteId, siteId), eq(deviceStates.deviceId, deviceId)))
    .for('update')
  if (!row) throw siteIsGone()
  return row
}

/**
 * Moves a device by an event and writes what else changed. Refused events change nothing and say
 * why.
 */
export async function advance(
  tx: Executor,
  row: DeviceRow,
  event: AdoptionEvent,
  changes: Partial<DeviceRow> = {},
  detail = '',
): Promise<{ ok: true; state: AdoptionState } | { ok: false; reason: string }> {
  const from = row.state
  const outcome = transition(from, event, row.claimedSerial !== null)
  if (!outcome.ok) return outcome
  const set = {
    ...changes,
    state: outcome.state,
    ...(outcome.changed ? { changedAt: new Date() } : {}),
  }
  await tx
    .update(deviceStates)
    .set(set)
    .where(and(eq(deviceStates.siteId, row.siteId), eq(deviceStates.deviceId, row.deviceId)))
  if (outcome.changed) {
    await tx.insert(deviceEvents).values({
      siteId: row.siteId,
      deviceId: row.deviceId,
      event,
      fromState: from,
      toState: outcome.state,
      detail,
    })
    await notify(tx, { site: row.siteId, topic: 'devices', device: row.deviceId })
  }
  return { ok: true, state: outcome.state }
}

async function versionOf(
  siteId: string,
): Promise<{ head: number; secretsVersion: number; clockSpeed: number }> {
  const [site] = await db()
    .select({
      head: sites.head,
      secretsVersion: sites.secretsVersion,
      clockSpeed: sites.clockSpeed,
    })
    .from(sites)
    .where(eq(sites.id, siteId))
  if (!site) throw siteIsGone()
  return site
}

/**
 * What the newest plan wants on a device, released or not. Not for a transaction: it is made of
 * what the whole site has, and read once for all who ask.
 */
export async function desiredOf(
  siteId: string,
  deviceId: string,
): Promise<{ plan: SitePlan; outcome: DesiredOutcome }> {
  const { head, secretsVersion } = await versionOf(siteId)
  return {
    plan: await planAt(db(), siteId, head),
    outcome: await desiredAt(siteId, head, secretsVersion, deviceId),
  }
}

/**
 * A claim is of a serial in a place of the plan. Where the plan has another serial there, or no
 * such place, it ends, and the token with it.
 */
export async function endLostClaims(tx: Executor, siteId: string, plan: SitePlan): Promise<void> {
  const claimed = await tx
    .select({ deviceId: deviceStates.deviceId, serial: deviceStates.claimedSerial })
    .from(deviceStates)
    .where(and(eq(deviceStates.siteId, siteId), isNotNull(deviceStates.claimedSerial)))
    .orderBy(asc(deviceStates.deviceId))
  for (const { deviceId, serial } of claimed)
    if (own(plan.devices, deviceId)?.serial !== serial)
      await giveUp(
        tx,
        await lockDevice(tx, siteId, deviceId),
        `the plan no longer has ${serial} here`,
      )
}

/** Takes the claim and the token away. */
export const giveUp = (tx: Executor, row: DeviceRow, why: string): ReturnType<typeof advance> =>
  advance(
    tx,
    row,
    'release',
    {
      claimedSerial: null,
      tokenHash: null,
      claimSecretDigest: null,
      sequence: 0,
      report: null,
      configurationDigest: null,
    },
    why,
  )

/**
 * What the controller knows of every adoptable device of a site, and the strangers that look like
 * one of them.
 */
/** @param only ids of devices whose rows are wanted; null for all */
export async function rollOf(siteId: string, only: ReadonlySet<string> | null = null) {
  const { head, secretsVersion, clockSpeed } = await versionOf(siteId)
  const model = siteModel(await planAt(db(), siteId, head))
  const adoptable = model.devices.filter(
    (d) => model.profileOf(d.id).adoptable && (only?.has(d.id) ?? true),
  )
  const rows = new Map(
    (await db().select().from(deviceStates).where(eq(deviceStates.siteId, siteId))).map((r) => [
      r.deviceId,
      r,
    ]),
  )
  const targets = await targetsOf(db(), siteId)
  const serials = model.devices.flatMap((d) => d.serial ?? [])
  const wanted = adoptable.flatMap((d) => d.serial ?? [])
  const elsewhere = await serialsElsewhere(siteId, wanted)
  const calling = new Map<string, RollDevice['callers']>()
  const since = Date.now() - callerSilenceMs(clockSpeed)
  for (const c of await callersOf(wanted))
    if (c.lastHeardAt.getTime() > since)
      calling.set(c.serial, [
        ...(calling.get(c.serial) ?? []),
        {
          address: c.address,
          hardwareAddress: c.hardwareAddress,
          model: c.model,
          sinceMs: c.firstHeardAt.getTime(),
        },
      ])
  const toldLast = await lastTold(siteId)
  const devices: RollDevice[] = []
  for (const [i, d] of adoptable.entries()) {
    // Others get their turn: of thousands, each is worked out once for a revision.
    if (i % 50 === 49) await new Promise((r) => setImmediate(r))
    const row = rows.get(d.id)
    const desired = await desiredAt(siteId, head, secretsVersion, d.id)
    const target = targets.get(d.id)
    const told = target && toldBy(target)
    // While its wave loads it may run either.
    const isBefore = target?.state === 'open' ? target.before : null
    devices.push({
      deviceId: d.id,
      state: row?.state ?? 'planned',
      claimed: row?.claimedSerial != null,
      claimedElsewhere: d.serial !== null && elsewhere.claimed.has(d.serial),
      plannedElsewhere: d.serial !== null && elsewhere.planned.has(d.serial),
      callers: (d.serial !== null && calling.get(d.serial)) || [],
      model: row?.model ?? null,
      firmware: row?.firmware ?? null,
      address: row?.address ?? null,
      factoryPassword: row?.factoryPassword ?? null,
      lastHeardAt: row?.lastHeardAt?.toISOString() ?? null,
      changedAt: (row?.changedAt ?? new Date(0)).toISOString(),
      configurationMatches:
        row?.configurationDigest && told
          ? row.configurationDigest === told.digest || row.configurationDigest === isBefore?.digest
          : null,
      runs: row?.configurationDigest ?? null,
      phase: row?.report?.phase ?? null,
      clock: row?.report?.clock ?? null,
      desiredMissing: told
        ? []
        : !desired.ok
          ? desired.missing
          : row?.claimedSerial
            ? ['it is in no release yet; send the plan to the devices']
            : [],
      release:
        (row?.configurationDigest === isBefore?.digest ? isBefore?.release : told?.release) ?? null,
      wentBack: target?.wentBack ?? false,
      isUnsent:
        desired.ok &&
        targets.size > 0 &&
        (told?.digest !== desired.desired.digest || told.firmware !== model.firmwareWanted(d.id)),
      told: toldLast.get(d.id) ?? null,
      ports: row?.report?.ports ?? [],
      lines: row?.report?.lines ?? [],
      paths: row?.report?.paths ?? [],
    })
  }
  const events = await db()
    .select({
      deviceId: deviceEvents.deviceId,
      at: deviceEvents.at,
      fromState: deviceEvents.fromState,
      toState: deviceEvents.toState,
      event: deviceEvents.event,
      detail: deviceEvents.detail,
    })
    .from(deviceEvents)
    .where(eq(deviceEvents.siteId, siteId))
    .orderBy(desc(deviceEvents.id))
    .limit(50)
  return { devices, foreign: await foreignTo(model, serials), events }
}

/** The last command of each device. */
async function lastTold(siteId: string): Promise<Map<string, NonNullable<RollDevice['told']>>> {
  const rows = await db()
    .selectDistinctOn([deviceCommands.deviceId], {
      deviceId: deviceCommands.deviceId,
      command: deviceCommands.command,
      at: deviceCommands.createdAt,
      doneAt: deviceCommands.doneAt,
    })
    .from(deviceCommands)
    .where(eq(deviceCommands.siteId, siteId))
    .orderBy(deviceCommands.deviceId, desc(deviceCommands.createdAt))
  return new Map(
    rows.map(({ deviceId, command, at, doneAt }) => [
      deviceId,
      { command, at: at.toISOString(), doneAt: doneAt?.toISOString() ?? null },
    ]),
  )
}

/**
 * Which of these serials other sites have in their plan or have claimed. Which sites is their
 * matter.
 */
async function serialsElsewhere(
  siteId: string,
  serials: readonly string[],
): Promise<{ planned: Set<string | null>; claimed: Set<string | null> }> {
  if (serials.length === 0) return { planned: new Set(), claimed: new Set() }
  const planned = await db()
    .select({ serial: inventory.serial })
    .from(inventory)
    .where(and(inArray(inventory.serial, [...serials]), ne(inventory.siteId, siteId)))
  const claimed = await db()
    .select({ serial: deviceStates.claimedSerial })
    .from(deviceStates)
    .where(and(inArray(deviceStates.claimedSerial, [...serials]), ne(deviceStates.siteId, siteId)))
  return {
    planned: new Set(planned.map((r) => r.serial)),
    claimed: new Set(claimed.map((r) => r.serial)),
  }
}

/** Callers with a serial of no plan that look like a device of this one. */
async function foreignTo(model: SiteModel, serials: readonly string[]): Promise<ForeignDevice[]> {
  const addresses = new Set(model.devices.flatMap((d) => d.hardwareAddress ?? []))
  const strangers = await db()
    .select()
    .from(callers)
    .where(sql`not exists (select 1 from inventory i where i.serial = ${callers.serial})`)
    .orderBy(desc(callers.lastHeardAt))
    .limit(500)
  const seen = new Set<string>()
  return strangers.flatMap((f): ForeignDevice[] => {
    const near =
      nearestSerial(f.serial, serials)?.serial ??
      model.devices.find((d) => d.hardwareAddress === f.hardwareAddress)?.serial ??
      null
    if (seen.has(f.serial) || (!near && !addresses.has(f.hardwareAddress))) return []
    seen.add(f.serial)
    return [
      {
        serial: f.serial,
        hardwareAddress: f.hardwareAddress,
        model: f.model,
        firmware: f.firmware,
        lastHeardAt: f.lastHeardAt.toISOString(),
        nearest: near,
      },
    ]
  })
}

/** Marks what was not heard for too long as lost, and forgets strangers that stopped calling. */
export async function sweepSilence(): Promise<void> {
  const speeds = await db().select({ id: sites.id, clockSpeed: sites.clockSpeed }).from(sites)
  for (const site of speeds) {
    const before = new Date(Date.now() - silenceMs(site.clockSpeed))
    await inTransaction(async (tx) => {
      const silent = await tx
        .select()
        .from(deviceStates)
        .where(
          and(
            eq(deviceStates.siteId, site.id),
            inArray(deviceStates.state, ['seen', 'loading', 'in-service', 'drifted']),
            lt(deviceStates.lastHeardAt, loadingAllowance(before, site.clockSpeed)),
          ),
        )
        .for('update', { skipLocked: true })
      for (const row of silent) {
        await advance(tx, row, 'silence', {}, 'not heard for three report intervals')
        // What was done about it when it was lost before is history.
        await tx
          .delete(stepsDone)
          .where(
            and(
              eq(stepsDone.siteId, site.id),
              sql`starts_with(${stepsDone.stepId}, ${recoveryPrefix(row.deviceId)})`,
            ),
          )
      }
    })
  }
  await sweepCallers()
}

function loadingAllowance(before: Date, clockSpeed: number) {
  const loading = new Date(before.getTime() - (LOADING_SECONDS * 1000) / clockSpeed)
  return sql`case when ${deviceStates.state} = 'loading' then ${loading.toISOString()}::timestamptz else
    ${before.toISOString()}::timestamptz end`
}

export async function openCommands(
  tx: Executor,
  siteId: string,
  deviceId: string,
): Promise<{ id: string; command: 'fetch' | 'restart' | 'locate' }[]> {
  return tx
    .select({ id: deviceCommands.id, command: deviceCommands.command })
    .from(deviceCommands)
    .where(
      and(
        eq(deviceCommands.siteId, siteId),
        eq(deviceCommands.deviceId, deviceId),
        isNull(deviceCommands.doneAt),
      ),
    )
    .orderBy(asc(deviceCommands.createdAt))
    .limit(16)
}
