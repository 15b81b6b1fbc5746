/**
 * Reports of devices in bulk: what comes in while one write is under way goes into the next, all in
 * one statement and one commit. A report is
 * answered only after its commit. Most say that nothing changed, and need no more than that; the
 * others go through the machine.
 */
import { isDeepStrictEqual } from 'node:util'
import { and, eq, sql } from 'drizzle-orm'
import {
  REPORT_SECONDS,
  transition,
  TRIAL_REPORT_SECONDS,
  type AdoptionState,
} from '@mast/core/adoption'
import type { Report, ReportReply } from '@mast/protocol'
import { digestToken } from '../accounts/sessions'
import { isDatabaseAway } from '../db/away'
import { keepStations, rulesFor } from '../clients/stations'
import { db, inTransaction } from '../db/database'
import { deviceStates, targets } from '../db/schema'
import { settleWentBack, toldBy, type Target } from '../releases/targets'
import { moveWave } from '../releases/waves'
import { desiredOf } from './devices'
import { replayed, unauthorised } from './refusals'

const MOST_IN_ONE = 500

interface Waiting {
  readonly tokenHash: string
  readonly report: Report
  readonly done: (written: Written) => void
  readonly failed: (error: unknown) => void
}
/** What the database said of one report. */
export interface Written extends Record<string, unknown> {
  readonly token: string
  readonly siteId: string
  readonly deviceId: string
  readonly state: AdoptionState
  readonly claimed: boolean
  /** Sequence before this report. */
  readonly sequence: number
  /** Of its lines and paths before this report; null where it had made none. */
  readonly lines: Report['lines'] | null
  readonly paths: Report['paths'] | null
  readonly hasCommands: boolean
  /** Whether the configuration that it runs is one of those that are kept. */
  readonly isKnown: boolean
  /** What it is told, with how far it is with it; null where nothing was released for it. */
  readonly target:
    | (Omit<Target, 'heldAt' | 'appliedAt'> & {
        readonly heldAt: string | null
        readonly appliedAt: string | null
        readonly applyAt: string | null
        readonly clockSpeed: number
      })
    | null
}

let waiting: Waiting[] = []
let writing = false

/**
 * Tokens that were seen in the database, so that what strangers make up is looked for apart from
 * what devices send. Whether one still holds is decided when the report is written.
 */
const MOST_KNOWN = 20_000
const known = new Set<string>()

async function mustBeKnown(tokenHash: string): Promise<void> {
  if (known.has(tokenHash)) return
  const [row] = await db()
    .select({ siteId: deviceStates.siteId })
    .from(deviceStates)
    .where(eq(deviceStates.tokenHash, tokenHash))
  if (!row) throw unauthorised()
  if (known.size >= MOST_KNOWN) known.delete(known.values().next().value!)
  known.add(tokenHash)
}

/** The token of a report, checked before anything else of it is read. @throws Refused */
export async function reporter(token: string): Promise<string> {
  const tokenHash = digestToken(token)
  await mustBeKnown(tokenHash)
  return tokenHash
}

const write = (tokenHash: string, report: Report): Promise<Written> =>
  new Promise((done, failed) => {
    waiting.push({ tokenHash, report, done, failed })
    if (!writing) void drain()
  })

async function drain(): Promise<void> {
  writing = true
  // What arrives in the same turn of the event loop goes along.
  await new Promise((r) => setImmediate(r))
  while (waiting.length > 0) {
    const batch: Waiting[] = []
    const tokens = new Set<string>()
    const later: Waiting[] = []
    for (const w of waiting) {
      // Two of one device are written one after the other, in the order in which they came.
      if (batch.length < MOST_IN_ONE && !tokens.has(w.tokenHash)) {
        tokens.add(w.tokenHash)
        batch.push(w)
      } else later.push(w)
    }
    waiting = later
    try {
      await settleBatch(batch)
    } catch (error) {
      // What one of them has that the database does not take is that one's matter.
      if (batch.length === 1 || isDatabaseAway(error)) for (const w of batch) w.failed(error)
      else for (const w of batch) await settleBatch([w]).catch(w.failed)
    }
  }
  writing = false
}

async function settleBatch(batch: readonly Waiting[]): Promise<void> {
  const rows = new Map((await writeAll(batch)).map((r) => [r.token, r]))
  for (const w of batch) {
    const row = rows.get(w.tokenHash)
    if (!row) {
      known.delete(w.tokenHash)
      w.failed(unauthorised())
    } else if (row.sequence >= w.report.sequence) w.failed(replayed())
    else w.done(row)
  }
}

/**
 * Locks the devices in the order of their keys, so that two processes never wait for each other.
 */
async function writeAll(batch: readonly Waiting[]): Promise<Written[]> {
  const given = batch.map(({ tokenHash, report: r }) => ({
    token: tokenHash,
    sequence: r.sequence,
    firmware: r.firmware,
    digest: r.configurationDigest,
    address: r.address,
    factory: r.factoryPassword,
    report: { ...r, stations: undefined },
  }))
  const { rows } = await db().execute<Written>(sql`
    with given as (select * from jsonb_to_recordset(${JSON.stringify(given)}::jsonb) as g(token text,
      sequence int, firmware text, digest text, address inet, factory boolean, report jsonb)),
    held as (
      select d.site_id, d.device_id, d.token_hash, d.state, d.claimed_serial is not null as claimed,
        d.sequence, d.report -> 'lines' as lines, d.report -> 'paths' as paths
      from device_states d where d.token_hash in (select token from given) order by d.site_id,
        d.device_id for no key update
    ),
    changed as (
      update device_states d set sequence = g.sequence, firmware = g.firmware, configuration_digest =
        g.digest, address = g.address, factory_password = g.factory, report = g.report, last_heard_at =
        now()
      from given g where d.token_hash = g.token and g.sequence > d.sequence and exists (select 1 from
        held h where h.token_hash = d.token_hash)
    )
    select h.token_hash as token, h.site_id as "siteId", h.device_id as "deviceId", h.state, h.claimed,
      h.sequence, h.lines, h.paths,
      case when t.device_id is null then null else json_build_object('siteId', t.site_id, 'deviceId',
        t.device_id, 'release', t.release, 'wave', t.wave, 'digest', t.digest, 'firmware', t.firmware,
        'profileId', t.profile_id,
        'state', t.state, 'heldAt', t.held_at, 'appliedAt', t.applied_at, 'wentBack', t.went_back,
          'trialSeconds', t.trial_seconds, 'before', t.before, 'clockSpeed', s.clock_speed,
        'applyAt', (select r.apply_at from releases r where t.state = 'open' and r.site_id = t.site_id
          and r.number = t.release)) end as target,
      exists (select 1 from device_commands c where c.site_id = h.site_id and c.device_id = h.device_id
        and c.done_at is null) as "hasCommands",
      exists (select 1 from documents k join given g on g.digest = k.digest where k.site_id = h.site_id
        and g.token = h.token_hash) as "isKnown"
    from held h join sites s on s.id = h.site_id left join targets t on t.site_id = h.site_id and
      t.device_id = h.device_id`)
  return rows
}

export type ReportEvent = 'hello' | 'report-loading' | 'report-matching' | 'report-differing'

/**
 * Writes a report and gives what it says to the machine, and to the release under way, where that
 * changes anything.
 * @throws Refused for an unknown token, and where the sequence does not count up.
 */
export async function takeReport(
  tokenHash: string,
  r: Report,
  settle: (
    w: Written,
    event: ReportEvent,
    r: Report,
    isTold: boolean,
  ) => Promise<Pick<ReportReply, 'nextReportSeconds' | 'commands'>>,
): Promise<ReportReply> {
  const written = await write(tokenHash, r)
  const told = written.target ? await trial(written.target, r) : await trialOfAComer(written, r)
  const event = eventOf(written.target, r)
  const moved = transition(written.state, event, written.claimed)
  // What screens show of it as it comes.
  const isTold =
    !isDeepStrictEqual(written.lines ?? [], r.lines) ||
    !isDeepStrictEqual(written.paths ?? [], r.paths)
  const isQuiet =
    moved.ok && !moved.changed && !isTold && r.done.length === 0 && !written.hasCommands
  const reply = isQuiet
    ? { nextReportSeconds: REPORT_SECONDS, commands: [] }
    : await settle(written, event, r, isTold)
  const wants = written.target && toldBy(written.target)
  if (r.stations) await keepStations(written.siteId, written.deviceId, r.stations)
  return {
    ...reply,
    ...told,
    wants: wants && { digest: wants.digest, firmware: wants.firmware },
    clientRules: r.stations ? await rulesFor(written.siteId) : null,
    sendRunning: r.phase === 'running' && r.configurationDigest !== null && !written.isKnown,
    nextReportSeconds:
      written.target?.state === 'open' || r.onTrial
        ? TRIAL_REPORT_SECONDS
        : reply.nextReportSeconds,
  }
}

/** What a report says of a device that is told what its target says. */
function eventOf(target: Written['target'], r: Report): ReportEvent {
  if (r.phase === 'loading-firmware' || r.phase === 'loading-configuration') return 'report-loading'
  // Nothing was released for it: there is nothing that it could differ from.
  if (!target) return r.configurationDigest === null ? 'hello' : 'report-matching'
  const runs = (t: { digest: string; firmware: string } | null): boolean =>
    t !== null && t.digest === r.configurationDigest && t.firmware === r.firmware
  // Of a wave it is as before until all of it load; from then on it loads, until all may keep it.
  if (target.state === 'open')
    return target.applyAt !== null || r.onTrial
      ? 'report-loading'
      : runs(target.before) || runs(target)
        ? 'report-matching'
        : 'report-loading'
  if (r.onTrial) return 'report-loading'
  return runs(toldBy(target)) ? 'report-matching' : 'report-differing'
}

/**
 * A device that comes over from another controller tries what that one sent it: it keeps it where
 * the plan here wants the same on it.
 */
async function trialOfAComer(
  { siteId, deviceId }: Written,
  r: Report,
): Promise<Pick<ReportReply, 'applyInSeconds' | 'trial'>> {
  if (!r.onTrial) return { applyInSeconds: null, trial: null }
  const { outcome } = await desiredOf(siteId, deviceId)
  const isWanted = outcome.ok && outcome.desired.digest === r.configurationDigest
  return { applyInSeconds: null, trial: isWanted ? 'keep' : 'back' }
}

/** Moves the release on that the device takes part in, and says what that is to the device. */
async function trial(
  target: NonNullable<Written['target']>,
  r: Report,
): Promise<Pick<ReportReply, 'applyInSeconds' | 'trial'>> {
  if (target.state !== 'open') {
    if (r.wentBackFrom === target.digest) await inTransaction((tx) => settleWentBack(tx, target, r))
    return {
      applyInSeconds: null,
      trial: !r.onTrial ? null : toldBy(target)?.digest === r.configurationDigest ? 'keep' : 'back',
    }
  }
  const holds =
    target.heldAt === null && (r.holds === target.digest || r.configurationDigest === target.digest)
  const applied =
    target.appliedAt === null &&
    r.configurationDigest === target.digest &&
    r.firmware === target.firmware &&
    r.phase === 'running'
  const wentBack = !target.wentBack && r.wentBackFrom === target.digest
  if (holds || applied || wentBack)
    await db()
      .update(targets)
      .set({
        ...(holds ? { heldAt: new Date() } : {}),
        ...(applied ? { appliedAt: new Date() } : {}),
        ...(wentBack ? { wentBack: true } : {}),
      })
      .where(
        and(
          eq(targets.siteId, target.siteId),
          eq(targets.deviceId, target.deviceId),
          eq(targets.release, target.release),
        ),
      )
  await moveWave(target.siteId)
  const inSeconds =
    target.applyAt === null
      ? null
      : Math.max(0, ((new Date(target.applyAt).getTime() - Date.now()) / 1000) * target.clockSpeed)
  return {
    applyInSeconds: r.holds === target.digest ? inSeconds : null,
    trial: r.onTrial ? 'wait' : null,
  }
}
