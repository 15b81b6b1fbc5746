/** Device states in the database: every change goes through the machine in core/adoption and leaves an event. */
import { and, asc, desc, eq, inArray, isNull, lt, ne, sql } from 'drizzle-orm'
import { desiredConfiguration, nearestSerial, transition, type AdoptionEvent, type AdoptionState, type DesiredOutcome } from '@mast/core/adoption'
import type { DeviceFacts } from '@mast/core/field'
import type { SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { db, type Executor } from '../db/database'
import { deviceCommands, deviceEvents, deviceStates, foreignDevices, inventory, sites } from '../db/schema'
import { notify } from '../live/notices'
import { planAt, planOf } from '../sites/plans'
import { desiredAt } from './desired'
import { readSecrets } from '../vault/vault'

export type DeviceRow = typeof deviceStates.$inferSelect

/** Seconds of device time between two reports, and how many may be missed. */
export const REPORT_SECONDS = 30
const MISSED_REPORTS = 3
const LEAST_SILENCE_MS = 6000

export const silenceMs = (clockSpeed: number): number => Math.max(LEAST_SILENCE_MS, (REPORT_SECONDS * MISSED_REPORTS * 1000) / clockSpeed)

/** The row of a device, made at its first event, locked for the transaction. */
export async function lockDevice(tx: Executor, siteId: string, deviceId: string): Promise<DeviceRow> {
  await tx.insert(deviceStates).values({ siteId, deviceId }).onConflictDoNothing()
  const [row] = await tx.select().from(deviceStates).where(and(eq(deviceStates.siteId, siteId), eq(deviceStates.deviceId, deviceId))).for('update')
  return row!
}

/** Moves a device by an event and writes what else changed. Refused events change nothing and say why. */
export async function advance(tx: Executor, row: DeviceRow, event: AdoptionEvent, changes: Partial<DeviceRow> = {}, detail = ''): Promise<{ ok: true; state: AdoptionState } | { ok: false; reason: string }> {
  const from = row.state as AdoptionState
  const outcome = transition(from, event, row.claimedSerial !== null)
  if (!outcome.ok) return outcome
  const set = { ...changes, state: outcome.state, ...(outcome.changed ? { changedAt: new Date() } : {}) }
  await tx.update(deviceStates).set(set).where(and(eq(deviceStates.siteId, row.siteId), eq(deviceStates.deviceId, row.deviceId)))
  if (outcome.changed) {
    await tx.insert(deviceEvents).values({ siteId: row.siteId, deviceId: row.deviceId, event, fromState: from, toState: outcome.state, detail })
    await notify(tx, { site: row.siteId, topic: 'devices' })
  }
  return { ok: true, state: outcome.state }
}

export async function desiredOf(siteId: string, deviceId: string, at: Executor = db()): Promise<{ plan: SitePlan; outcome: DesiredOutcome }> {
  const [site] = await at.select({ head: sites.head, secretsVersion: sites.secretsVersion }).from(sites).where(eq(sites.id, siteId))
  return { plan: await planAt(at, siteId, site!.head), outcome: await desiredAt(siteId, site!.head, site!.secretsVersion, deviceId) }
}

/** What screens show of a device: the facts that findings are made of, and what only a person reads. */
export interface DeviceView extends Pick<DeviceFacts, 'deviceId' | 'state' | 'claimed' | 'claimedElsewhere' | 'model' | 'firmware' | 'factoryPassword' | 'configurationMatches'> {
  readonly address: string | null
  readonly lastHeardAt: string | null
  readonly changedAt: string
  readonly desiredMissing: readonly string[]
  readonly ports: readonly { name: string; up: boolean; heard: string[] }[]
  readonly line: { up: boolean; address: string | null } | null
}
export interface ForeignView { readonly serial: string; readonly hardwareAddress: string; readonly model: string; readonly firmware: string; readonly lastHeardAt: string; readonly nearest: string | null }

/** What the controller knows of every adoptable device of a site, and the strangers that look like one of them. */
export async function rollOf(siteId: string): Promise<{ devices: DeviceView[]; foreign: ForeignView[]; events: { deviceId: string; at: Date; fromState: string; toState: string; event: string; detail: string }[] }> {
  const { plan } = await planOf(db(), siteId)
  const model = siteModel(plan)
  const secrets = await readSecrets(db(), siteId)
  const rows = new Map((await db().select().from(deviceStates).where(eq(deviceStates.siteId, siteId))).map((r) => [r.deviceId, r]))
  const own = model.devices.flatMap((d) => d.serial ?? [])
  const elsewhere = new Set(own.length === 0 ? [] : (await db().select({ serial: deviceStates.claimedSerial }).from(deviceStates).where(and(inArray(deviceStates.claimedSerial, own), ne(deviceStates.siteId, siteId)))).map((r) => r.serial))
  const devices = model.devices.filter((d) => model.profileOf(d.id).adoptable).map((d): DeviceView => {
    const row = rows.get(d.id)
    const desired = desiredConfiguration(model, d.id, secrets)
    const report = row?.report as { ports?: DeviceView['ports']; line?: DeviceView['line'] } | null | undefined
    return {
      deviceId: d.id, state: (row?.state ?? 'planned') as AdoptionState, claimed: row?.claimedSerial != null, claimedElsewhere: d.serial !== null && elsewhere.has(d.serial), model: row?.model ?? null, firmware: row?.firmware ?? null, address: row?.address ?? null,
      factoryPassword: row?.factoryPassword ?? null, lastHeardAt: row?.lastHeardAt?.toISOString() ?? null, changedAt: (row?.changedAt ?? new Date(0)).toISOString(),
      configurationMatches: row?.configurationDigest && desired.ok ? row.configurationDigest === desired.desired.digest : null,
      desiredMissing: desired.ok ? [] : desired.missing, ports: report?.ports ?? [], line: report?.line ?? null,
    }
  })
  const serials = model.devices.flatMap((d) => d.serial ?? [])
  const addresses = new Set(model.devices.flatMap((d) => d.hardwareAddress ?? []))
  const strangers = await db().select().from(foreignDevices).orderBy(desc(foreignDevices.lastHeardAt)).limit(500)
  const foreign = strangers.flatMap((f): ForeignView[] => {
    const near = nearestSerial(f.serial, serials)?.serial ?? model.devices.find((d) => d.hardwareAddress === f.hardwareAddress)?.serial ?? null
    if (!near && !addresses.has(f.hardwareAddress)) return []
    return [{ serial: f.serial, hardwareAddress: f.hardwareAddress, model: f.model, firmware: f.firmware, lastHeardAt: f.lastHeardAt.toISOString(), nearest: near }]
  })
  const events = await db().select({ deviceId: deviceEvents.deviceId, at: deviceEvents.at, fromState: deviceEvents.fromState, toState: deviceEvents.toState, event: deviceEvents.event, detail: deviceEvents.detail })
    .from(deviceEvents).where(eq(deviceEvents.siteId, siteId)).orderBy(desc(deviceEvents.id)).limit(50)
  return { devices, foreign, events }
}

/** Marks what was not heard for too long as lost, and forgets strangers that stopped calling. */
export async function sweepSilence(): Promise<void> {
  const speeds = await db().select({ id: sites.id, clockSpeed: sites.clockSpeed }).from(sites)
  for (const site of speeds) {
    const before = new Date(Date.now() - silenceMs(site.clockSpeed))
    await db().transaction(async (tx) => {
      const silent = await tx.select().from(deviceStates).where(and(
        eq(deviceStates.siteId, site.id), inArray(deviceStates.state, ['seen', 'loading', 'in-service', 'drifted']), lt(deviceStates.lastHeardAt, loadingAllowance(before, site.clockSpeed)),
      )).for('update', { skipLocked: true })
      for (const row of silent) await advance(tx, row, 'silence', {}, 'not heard for three report intervals')
    })
  }
  await db().delete(foreignDevices).where(lt(foreignDevices.lastHeardAt, sql`now() - interval '1 minute' * 2`))
}

/** A device that writes firmware is silent for minutes of its own time; that is not a loss. */
const LOADING_SECONDS = 900
function loadingAllowance(before: Date, clockSpeed: number) {
  const loading = new Date(before.getTime() - (LOADING_SECONDS * 1000) / clockSpeed)
  return sql`case when ${deviceStates.state} = 'loading' then ${loading.toISOString()}::timestamptz else ${before.toISOString()}::timestamptz end`
}

export async function openCommands(tx: Executor, siteId: string, deviceId: string): Promise<{ id: string; command: 'fetch' | 'restart' | 'locate' }[]> {
  return tx.select({ id: deviceCommands.id, command: deviceCommands.command }).from(deviceCommands)
    .where(and(eq(deviceCommands.siteId, siteId), eq(deviceCommands.deviceId, deviceId), isNull(deviceCommands.doneAt))).orderBy(asc(deviceCommands.createdAt)).limit(16)
}

/** The device of a plan that has a serial; two plans with one serial are told apart by who claimed it. */
export async function deviceBySerial(tx: Executor, serial: string): Promise<{ siteId: string; deviceId: string } | undefined> {
  const [claimed] = await tx.select({ siteId: deviceStates.siteId, deviceId: deviceStates.deviceId }).from(deviceStates).where(eq(deviceStates.claimedSerial, serial))
  if (claimed) return claimed
  const found = await tx.select({ siteId: inventory.siteId, deviceId: inventory.deviceId }).from(inventory).where(eq(inventory.serial, serial)).limit(2)
  return found.length === 1 ? found[0] : undefined
}
