/**
 * What the controller does with the calls of devices. The routes under /controller/v1 only read and
 * write HTTP.
 */
import { createHash, randomBytes } from 'node:crypto'
import { and, asc, eq, inArray } from 'drizzle-orm'
import { own } from '@mast/core/plan'
import {
  callerSilenceMs,
  patienceMs,
  REPORT_SECONDS,
  RETRY_SECONDS,
  silenceMs,
  transition,
  type AdoptionState,
} from '@mast/core/adoption'
import type { Desired, Hello, HelloReply, Report, ReportReply } from '@mast/protocol'
import { digestToken } from '../accounts/sessions'
import { db, inTransaction, type Executor } from '../db/database'
import { deviceCommands, deviceStates, inventory, sites } from '../db/schema'
import { notify } from '../live/notices'
import { documentOf } from '../releases/documents'
import { targetOf, toldBy } from '../releases/targets'
import { planAt } from '../sites/plans'
import { heard, lockSerial } from './callers'
import { advance, giveUp, lockDevice, openCommands, type DeviceRow } from './devices'
import { firmwareDigest, firmwareImage } from './firmware'
import { unauthorised } from './refusals'
import type { ReportEvent, Written } from './reports'

/**
 * A serial may stand in plans of several sites until it is claimed in one; in more than this it
 * stands for nothing.
 */
const MOST_PLANS = 8

export async function hello(h: Hello): Promise<HelloReply> {
  return inTransaction(async (tx) => {
    await lockSerial(tx, h.serial)
    const [claimed] = await tx
      .select({ siteId: deviceStates.siteId, deviceId: deviceStates.deviceId })
      .from(deviceStates)
      .where(eq(deviceStates.claimedSerial, h.serial))
    if (claimed)
      return {
        status: await helloUnderAClaim(
          tx,
          await lockDevice(tx, claimed.siteId, claimed.deviceId),
          h,
        ),
        retryAfterSeconds: RETRY_SECONDS,
      }
    const planned = await tx
      .select({
        siteId: inventory.siteId,
        deviceId: inventory.deviceId,
        clockSpeed: sites.clockSpeed,
      })
      .from(inventory)
      .innerJoin(sites, eq(sites.id, inventory.siteId))
      .where(eq(inventory.serial, h.serial))
      .orderBy(asc(inventory.siteId), asc(inventory.deviceId))
      .limit(MOST_PLANS)
    const speed = Math.min(...planned.map((p) => p.clockSpeed))
    const calling = await heard(tx, h, callerSilenceMs(planned.length > 0 ? speed : 1))
    const isFirst = calling[0]?.claimSecretDigest === h.claimSecretDigest
    for (const { siteId, deviceId } of planned) {
      // Who came second is shown, and changes nothing of what is known of the first.
      if (isFirst)
        await advance(
          tx,
          await lockDevice(tx, siteId, deviceId),
          'hello',
          { ...factsOf(h), claimSecretDigest: h.claimSecretDigest },
          `called from ${h.address}`,
        )
      if (calling.length > 1) await notify(tx, { site: siteId, topic: 'devices' })
    }
    return { status: 'unclaimed', retryAfterSeconds: RETRY_SECONDS }
  })
}

const factsOf = (
  h: Hello,
): Pick<DeviceRow, 'model' | 'firmware' | 'address' | 'factoryPassword' | 'lastHeardAt'> => ({
  model: h.model,
  firmware: h.firmware,
  address: h.address,
  factoryPassword: h.factoryPassword,
  lastHeardAt: new Date(),
})

/**
 * A call without a token under a serial that is claimed. Anybody who knows the serial can make one,
 * and whoever heard one can say it again, so it changes nothing as
 * long as a token speaks for the device. A device that lost its token proves itself with its secret
 * when it asks for a new one; one that was reset has lost that too:
 * it is believed when the claimed one has been silent for too long and it has called for as long.
 */
async function helloUnderAClaim(
  tx: Executor,
  row: DeviceRow,
  h: Hello,
): Promise<HelloReply['status']> {
  if (row.claimSecretDigest === null || row.claimSecretDigest === h.claimSecretDigest) {
    if (row.tokenHash === null)
      await advance(
        tx,
        row,
        'hello',
        { ...factsOf(h), claimSecretDigest: h.claimSecretDigest },
        `called from ${h.address}`,
      )
    return 'claimed'
  }
  const [site] = await tx
    .select({ clockSpeed: sites.clockSpeed })
    .from(sites)
    .where(eq(sites.id, row.siteId))
  const { clockSpeed } = site!
  const calling = await heard(tx, h, callerSilenceMs(clockSpeed))
  await notify(tx, { site: row.siteId, topic: 'devices', device: row.deviceId })
  const now = Date.now()
  const isSilent =
    row.lastHeardAt === null ||
    now - row.lastHeardAt.getTime() > patienceMs(row.state === 'loading', clockSpeed)
  const mine = calling.find((c) => c.claimSecretDigest === h.claimSecretDigest)
  if (!isSilent || !mine || now - mine.firstHeardAt.getTime() < silenceMs(clockSpeed))
    return 'unclaimed'
  const released = await giveUp(tx, row, 'it calls as if new; its memory was lost')
  if (released.ok)
    await advance(
      tx,
      { ...row, claimedSerial: null, state: released.state },
      'hello',
      { ...factsOf(h), claimSecretDigest: h.claimSecretDigest },
      'was reset; claim it again',
    )
  return 'unclaimed'
}

/**
 * @throws Refused where the serial is not claimed or the secret is not the one that was heard
 * when it was.
 */
export async function issueToken(serial: string, claimSecret: string): Promise<string> {
  return inTransaction(async (tx) => {
    const [found] = await tx
      .select()
      .from(deviceStates)
      .where(eq(deviceStates.claimedSerial, serial))
      .for('update')
    const digest = createHash('sha256').update(claimSecret).digest('hex')
    if (!found || found.claimSecretDigest !== digest) throw unauthorised()
    const token = randomBytes(32).toString('base64url')
    await tx
      .update(deviceStates)
      .set({ tokenHash: digestToken(token), sequence: 0, lastHeardAt: new Date() })
      .where(and(eq(deviceStates.siteId, found.siteId), eq(deviceStates.deviceId, found.deviceId)))
    return token
  })
}

async function byToken(tx: Executor, token: string): Promise<DeviceRow> {
  const [row] = await tx
    .select()
    .from(deviceStates)
    .where(eq(deviceStates.tokenHash, digestToken(token)))
    .for('update')
  if (!row) throw unauthorised()
  return row
}

/** The device that a token is of, and where its site is. @throws Refused */
async function deviceOfToken(token: string): Promise<{
  siteId: string
  deviceId: string
  state: AdoptionState
  claimed: string | null
  firmware: string | null
  head: number
}> {
  const [known] = await db()
    .select({
      siteId: deviceStates.siteId,
      deviceId: deviceStates.deviceId,
      state: deviceStates.state,
      claimed: deviceStates.claimedSerial,
      firmware: deviceStates.firmware,
      head: sites.head,
    })
    .from(deviceStates)
    .innerJoin(sites, eq(sites.id, deviceStates.siteId))
    .where(eq(deviceStates.tokenHash, digestToken(token)))
  if (!known) throw unauthorised()
  return known
}

/**
 * What its release has for a device, or null where it runs that already or nothing was released for
 * it. What is read on other connections is read before the device is locked.
 */
export async function desiredFor(token: string, runs: string | null): Promise<Desired | null> {
  const { siteId, deviceId, state, claimed, firmware, head } = await deviceOfToken(token)
  const device = own((await planAt(db(), siteId, head)).devices, deviceId)
  if (!device || claimed !== device.serial) throw unauthorised()
  const target = await targetOf(db(), siteId, deviceId)
  const told = target && toldBy(target)
  const runsAll =
    told !== undefined && told !== null && runs === told.digest && firmware === told.firmware
  const configuration = told && !runsAll ? await documentOf(siteId, told.digest) : undefined
  // Who keeps it aside for a while goes on as before.
  const loads =
    configuration !== undefined &&
    (told!.apply === 'at-once' || runs === null || firmware !== told!.firmware)
  const moved = loads ? transition(state, 'fetch', true) : undefined
  // Most are heard of again and change nothing more.
  if (!moved?.ok || !moved.changed)
    await db()
      .update(deviceStates)
      .set({ lastHeardAt: new Date() })
      .where(eq(deviceStates.tokenHash, digestToken(token)))
  else
    await inTransaction(async (tx) =>
      advance(
        tx,
        await byToken(tx, token),
        'fetch',
        { lastHeardAt: new Date() },
        firmware === told!.firmware
          ? `fetched its configuration of release ${told!.release}`
          : `fetched firmware ${told!.firmware}`,
      ),
    )
  if (!told || !configuration) return null
  const path = `/controller/v1/firmware/${encodeURIComponent(told.profileId)}/${encodeURIComponent(told.firmware)}`
  return {
    digest: told.digest,
    configuration,
    firmware: {
      version: told.firmware,
      path,
      digest: firmwareDigest(told.profileId, told.firmware),
    },
    apply: runs === null ? 'at-once' : told.apply,
    trialSeconds: runs === null ? null : told.trialSeconds,
  }
}

/** The firmware that a device is told to run; undefined for any other. */
export async function firmwareFor(
  token: string,
  profileId: string,
  version: string,
): Promise<Buffer | undefined> {
  const { siteId, deviceId } = await deviceOfToken(token)
  const target = await targetOf(db(), siteId, deviceId)
  const told = target && toldBy(target)
  return told && told.profileId === profileId && told.firmware === version
    ? firmwareImage(profileId, version)
    : undefined
}

/** What a report changes beyond itself: the state, the line, commands carried out. */
export async function settleReport(
  w: Written,
  event: ReportEvent,
  r: Report,
  isTold: boolean,
): Promise<Pick<ReportReply, 'nextReportSeconds' | 'commands'>> {
  return inTransaction(async (tx) => {
    const row = await lockDevice(tx, w.siteId, w.deviceId)
    // Between the two writes it may have been given up or reset; then its report is history.
    if (row.tokenHash !== null) await advance(tx, row, event, {}, r.message ?? '')
    const device = { site: w.siteId, topic: 'devices', device: w.deviceId } as const
    if (isTold) await notify(tx, device)
    const ids = r.done.filter((id) => /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(id))
    if (ids.length > 0) {
      await tx
        .update(deviceCommands)
        .set({ doneAt: new Date() })
        .where(
          and(
            eq(deviceCommands.siteId, w.siteId),
            eq(deviceCommands.deviceId, w.deviceId),
            inArray(deviceCommands.id, ids),
          ),
        )
      await notify(tx, device)
    }
    return {
      nextReportSeconds: REPORT_SECONDS,
      commands: await openCommands(tx, w.siteId, w.deviceId),
    }
  })
}
