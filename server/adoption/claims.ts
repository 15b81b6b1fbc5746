/** Claiming by serial, giving up, and commands. */
import { and, eq, isNotNull, ne } from 'drizzle-orm'
import type { DeviceCommand } from '@mast/api'
import { callerSilenceMs, nearestSerial } from '@mast/core/adoption'
import { own } from '@mast/core/plan'
import { innermost } from '../db/away'
import { db, inTransaction, type Executor } from '../db/database'
import { deviceCommands, deviceStates, inventory, log, sites } from '../db/schema'
import { notify } from '../live/notices'
import { Refused } from '../refusal'
import { planOf } from '../sites/plans'
import { callingNow, forgetCallers, lockSerial, type Caller } from './callers'
import { advance, giveUp, lockDevice, openCommands, type DeviceRow } from './devices'

const UNIQUE_VIOLATION = '23505'

const refuse = (reason: string): Refused => new Refused('not-possible', reason)

/**
 * The serial is typed again by the person who claims, off the label; it must be the one in the
 * plan.
 */
export async function claim(
  siteId: string,
  deviceId: string,
  typed: string,
  accountId: string,
): Promise<void> {
  await inTransaction(async (tx) => {
    const { plan } = await planOf(tx, siteId)
    const device = own(plan.devices, deviceId)
    if (!device) throw refuse('there is no such device in the plan')
    if (!device.serial)
      throw refuse(`${device.name} has no serial in the plan; enter it in Survey first`)
    const serial = typed.trim().toUpperCase()
    if (serial !== device.serial) {
      const near = nearestSerial(serial, [device.serial])
      throw refuse(
        near
          ? `${serial} differs from the plan's ${device.serial} in ${near.distance} ` +
              `${near.distance === 1 ? 'place' : 'places'}; read the label again`
          : `${serial} is not the serial of ${device.name}; the plan has ${device.serial}`,
      )
    }
    await lockSerial(tx, serial)
    const row = await lockDevice(tx, siteId, deviceId)
    if (row.claimedSerial !== null) return
    const [site] = await tx
      .select({ clockSpeed: sites.clockSpeed })
      .from(sites)
      .where(eq(sites.id, siteId))
    const calling = await callingNow(tx, serial, callerSilenceMs(site!.clockSpeed))
    const others = await othersWith(tx, siteId, serial)
    const doubt = await doubtOf(tx, siteId, serial, calling, others.length)
    if (doubt) throw refuse(doubt)
    // Who called once and is silent now is nobody to bind to; then it is the first that calls.
    await bind(tx, row, serial, calling[0]?.claimSecretDigest ?? null, others, {
      accountId,
      what: `Claimed ${device.name} (${serial})`,
      detail: `claimed as ${serial}`,
    })
  }).catch((error: unknown) => {
    if ((innermost(error) as { code?: string }).code === UNIQUE_VIOLATION)
      throw refuse('another site claimed it just now; look again')
    throw error
  })
}

const othersWith = (tx: Executor, siteId: string, serial: string) =>
  tx
    .select({ siteId: inventory.siteId, name: inventory.name })
    .from(inventory)
    .where(and(eq(inventory.serial, serial), ne(inventory.siteId, siteId)))

/** Makes a device that of a site, and tells the other sites that have its serial in their plan. */
async function bind(
  tx: Executor,
  row: DeviceRow,
  serial: string,
  claimSecretDigest: string | null,
  others: readonly { siteId: string; name: string }[],
  by: { accountId: string | null; what: string; detail: string },
): Promise<void> {
  const moved = await advance(
    tx,
    row,
    'claim',
    { claimedSerial: serial, claimSecretDigest },
    by.detail,
  )
  if (!moved.ok) throw refuse(moved.reason)
  await forgetCallers(tx, serial)
  // In the order of the sites: two claims that tell each other must not wait for each other.
  const entries = [
    { siteId: row.siteId, accountId: by.accountId, what: by.what },
    ...others.map((o) => ({
      siteId: o.siteId,
      accountId: null,
      what: `The serial of ${o.name} (${serial}) was claimed by another site`,
    })),
  ]
  for (const entry of entries.sort((a, b) => (a.siteId < b.siteId ? -1 : 1)))
    await tx.insert(log).values(entry)
  for (const other of others) await notify(tx, { site: other.siteId, topic: 'devices' })
}

/**
 * Of a device whose maker vouches that it is this site's, and that proved to be the one: it belongs
 * to the site without anybody's doing. One that another site has claimed stays there.
 */
export async function claimByVoucher(
  siteId: string,
  deviceId: string,
  serial: string,
): Promise<void> {
  await inTransaction(async (tx) => {
    await lockSerial(tx, serial)
    const [claimed] = await tx
      .select({ siteId: deviceStates.siteId })
      .from(deviceStates)
      .where(eq(deviceStates.claimedSerial, serial))
    if (claimed) return
    const others = await othersWith(tx, siteId, serial)
    await bind(tx, await lockDevice(tx, siteId, deviceId), serial, null, others, {
      accountId: null,
      what: `${serial} was set up from its box; its maker vouches that it is of this site`,
      detail: `its maker vouches for ${serial}`,
    })
  })
}

const claimedOf = async (siteId: string): Promise<number> =>
  db().$count(
    deviceStates,
    and(eq(deviceStates.siteId, siteId), isNotNull(deviceStates.claimedSerial)),
  )

/** One after the other; what one refuses does not keep the others from it. */
export async function claimAll(
  siteId: string,
  claims: readonly { readonly deviceId: string; readonly serial: string }[],
  accountId: string,
): Promise<{
  before: number
  after: number
  claimed: string[]
  refused: { deviceId: string; why: string }[]
}> {
  const before = await claimedOf(siteId)
  const claimed: string[] = []
  const refused: { deviceId: string; why: string }[] = []
  for (const { deviceId, serial } of claims)
    try {
      await claim(siteId, deviceId, serial, accountId)
      claimed.push(deviceId)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      refused.push({ deviceId, why: error.message })
    }
  return { before, after: await claimedOf(siteId), claimed, refused }
}

/** Why it cannot be told whose a serial is, or undefined where it can. */
async function doubtOf(
  tx: Executor,
  siteId: string,
  serial: string,
  calling: readonly Caller[],
  otherPlans: number,
): Promise<string | undefined> {
  const [elsewhere] = await tx
    .select({ siteId: deviceStates.siteId })
    .from(deviceStates)
    .where(and(eq(deviceStates.claimedSerial, serial), ne(deviceStates.siteId, siteId)))
  if (elsewhere)
    return `${serial} is claimed by another site already; it has to be given up there first`
  if (calling.length > 1)
    return (
      `${calling.length} devices call as ${serial}: from ` +
      `${calling.map((c) => `${c.address} (${c.hardwareAddress})`).join(' and ')}. Switch off ` +
      'the one that is not yours, wait until it is no longer listed, and claim again'
    )
  if (otherPlans > 0 && calling.length === 0)
    return (
      `another site here has ${serial} in its plan too; it can be claimed once it calls. Read ` +
      'the label again, and look whether it has power and a way here'
    )
  return undefined
}

export async function giveUpByHand(
  siteId: string,
  deviceId: string,
  accountId: string,
): Promise<void> {
  await inTransaction(async (tx) => {
    const [known] = await tx
      .select({ deviceId: deviceStates.deviceId })
      .from(deviceStates)
      .where(and(eq(deviceStates.siteId, siteId), eq(deviceStates.deviceId, deviceId)))
    if (!known) throw refuse('nothing was ever heard of this device; there is nothing to give up')
    const moved = await giveUp(tx, await lockDevice(tx, siteId, deviceId), 'given up')
    if (!moved.ok) throw refuse(moved.reason)
    await tx.insert(log).values({ siteId, accountId, what: `Gave up ${deviceId}` })
  })
}

/** Commands that a device has not carried out yet. */
const MOST_OPEN_COMMANDS = 16

export async function command(
  siteId: string,
  deviceId: string,
  what: DeviceCommand,
  accountId: string,
): Promise<void> {
  await inTransaction(async (tx) => {
    const { plan } = await planOf(tx, siteId)
    if (!own(plan.devices, deviceId)) throw refuse('there is no such device in the plan')
    if ((await openCommands(tx, siteId, deviceId)).length >= MOST_OPEN_COMMANDS)
      throw refuse(`${MOST_OPEN_COMMANDS} commands wait for its next call already`)
    await tx.insert(deviceCommands).values({ siteId, deviceId, command: what })
    await tx.insert(log).values({ siteId, accountId, what: `Told ${deviceId} to ${what}` })
    await notify(tx, { site: siteId, topic: 'devices', device: deviceId })
  })
}
