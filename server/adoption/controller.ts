/** What the controller does with the calls of devices. The routes under /controller/v1 only read and write HTTP. */
import { createHash, randomBytes } from 'node:crypto'
import { and, eq, inArray } from 'drizzle-orm'
import type { Desired, Hello, HelloReply, Report, ReportReply } from '@mast/protocol'
import { siteModel } from '@mast/core/topology'
import { digestToken } from '../accounts/sessions'
import { db, type Executor } from '../db/database'
import { deviceCommands, deviceStates, foreignDevices, sites } from '../db/schema'
import { notify } from '../live/notices'
import { advance, desiredOf, deviceBySerial, lockDevice, openCommands, REPORT_SECONDS, silenceMs, type DeviceRow } from './devices'
import { firmwareImage } from './firmware'
import { Unauthorised } from './refusals'
import type { ReportEvent, Written } from './reports'

const RETRY_SECONDS = 10

export async function hello(h: Hello): Promise<HelloReply> {
  return db().transaction(async (tx) => {
    const known = await deviceBySerial(tx, h.serial)
    if (!known) {
      await tx.insert(foreignDevices).values({ serial: h.serial, hardwareAddress: h.hardwareAddress, model: h.model, firmware: h.firmware, address: h.address, claimSecretDigest: h.claimSecretDigest })
        .onConflictDoUpdate({ target: foreignDevices.serial, set: { lastHeardAt: new Date(), address: h.address, firmware: h.firmware, claimSecretDigest: h.claimSecretDigest } })
      return { status: 'unclaimed', retryAfterSeconds: RETRY_SECONDS }
    }
    const row = await lockDevice(tx, known.siteId, known.deviceId)
    const heard = { model: h.model, firmware: h.firmware, address: h.address, factoryPassword: h.factoryPassword, lastHeardAt: new Date() }
    const isSame = row.claimSecretDigest === null || row.claimSecretDigest === h.claimSecretDigest
    if (row.claimedSerial !== null && !isSame) return strangerUnderAClaimedSerial(tx, row, h)
    await advance(tx, row, 'hello', { ...heard, claimSecretDigest: h.claimSecretDigest }, `called from ${h.address}`)
    return { status: row.claimedSerial !== null ? 'claimed' : 'unclaimed', retryAfterSeconds: RETRY_SECONDS }
  })
}

/** Either the device was reset and lost its memory, or somebody uses its serial. While it still reports, nothing is believed. */
async function strangerUnderAClaimedSerial(tx: Executor, row: DeviceRow, h: Hello): Promise<HelloReply> {
  const [site] = await tx.select({ clockSpeed: sites.clockSpeed }).from(sites).where(eq(sites.id, row.siteId))
  const quiet = row.lastHeardAt === null || Date.now() - row.lastHeardAt.getTime() > silenceMs(site!.clockSpeed)
  if (quiet) {
    const forgotten = { claimedSerial: null, tokenHash: null, claimSecretDigest: h.claimSecretDigest, firmware: h.firmware, address: h.address, factoryPassword: h.factoryPassword, lastHeardAt: new Date(), configurationDigest: null, report: null }
    const released = await advance(tx, row, 'release', forgotten, 'it calls as if new; its memory was lost')
    if (released.ok) await advance(tx, { ...row, ...forgotten, state: released.state }, 'hello', {}, 'was reset; claim it again')
  }
  return { status: 'unclaimed', retryAfterSeconds: RETRY_SECONDS }
}

/** @throws Unauthorised where the serial is not claimed or the secret is not the one that was heard when it was. */
export async function issueToken(serial: string, claimSecret: string): Promise<string> {
  return db().transaction(async (tx) => {
    const [found] = await tx.select().from(deviceStates).where(eq(deviceStates.claimedSerial, serial)).for('update')
    const digest = createHash('sha256').update(claimSecret).digest('hex')
    if (!found || found.claimSecretDigest !== digest) throw new Unauthorised()
    const token = randomBytes(32).toString('base64url')
    await tx.update(deviceStates).set({ tokenHash: digestToken(token), sequence: 0, lastHeardAt: new Date() }).where(and(eq(deviceStates.siteId, found.siteId), eq(deviceStates.deviceId, found.deviceId)))
    return token
  })
}

async function byToken(tx: Executor, token: string): Promise<DeviceRow> {
  const [row] = await tx.select().from(deviceStates).where(eq(deviceStates.tokenHash, digestToken(token))).for('update')
  if (!row) throw new Unauthorised()
  return row
}

/** The desired configuration, or null where the device runs it already. */
export async function desiredFor(token: string, runs: string | null): Promise<Desired | null> {
  return db().transaction(async (tx) => {
    const row = await byToken(tx, token)
    const { plan, outcome } = await desiredOf(row.siteId, row.deviceId, tx)
    const device = plan.devices[row.deviceId]
    if (!device) throw new Unauthorised()
    const wanted = siteModel(plan).profileOf(device.id).firmware.wanted
    const heard = { lastHeardAt: new Date() }
    const runsAll = outcome.ok && runs === outcome.desired.digest && row.firmware === wanted
    if (!outcome.ok || runsAll) {
      await tx.update(deviceStates).set(heard).where(and(eq(deviceStates.siteId, row.siteId), eq(deviceStates.deviceId, row.deviceId)))
      return null
    }
    await advance(tx, row, 'fetch', heard, row.firmware === wanted ? 'fetched its configuration' : `fetched firmware ${wanted}`)
    const image = firmwareImage(device.profileId, wanted)
    return { digest: outcome.desired.digest, configuration: outcome.desired.configuration, firmware: { version: wanted, path: `/controller/v1/firmware/${device.profileId}/${wanted}`, digest: createHash('sha256').update(image).digest('hex') } }
  })
}

/** What a report changes beyond itself: the state, the line, commands carried out. */
export async function settleReport(w: Written, event: ReportEvent, r: Report, lineChanged: boolean): Promise<ReportReply> {
  return db().transaction(async (tx) => {
    const row = await lockDevice(tx, w.siteId, w.deviceId)
    // Between the two writes it may have been given up or reset; then its report is history.
    if (row.tokenHash !== null) await advance(tx, row, event, {}, r.message ?? '')
    if (lineChanged) await notify(tx, { site: w.siteId, topic: 'devices' })
    const ids = r.done.filter((id) => /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(id))
    if (ids.length > 0) await tx.update(deviceCommands).set({ doneAt: new Date() }).where(and(eq(deviceCommands.siteId, w.siteId), eq(deviceCommands.deviceId, w.deviceId), inArray(deviceCommands.id, ids)))
    return { nextReportSeconds: REPORT_SECONDS, commands: await openCommands(tx, w.siteId, w.deviceId) }
  })
}
