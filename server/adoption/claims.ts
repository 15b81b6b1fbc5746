/** Claiming by serial, giving up, and commands. */
import { and, eq, ne } from 'drizzle-orm'
import { nearestSerial } from '@mast/core/adoption'
import { db } from '../db/database'
import { deviceCommands, deviceStates, log } from '../db/schema'
import { notify } from '../live/notices'
import { planOf } from '../sites/plans'
import { advance, lockDevice } from './devices'

export type ClaimOutcome = { ok: true } | { ok: false; reason: string }

/** The serial is typed again by the person who claims, off the label; it must be the one in the plan. */
export async function claim(siteId: string, deviceId: string, typed: string, accountId: string): Promise<ClaimOutcome> {
  return db().transaction(async (tx): Promise<ClaimOutcome> => {
    const { plan } = await planOf(tx, siteId)
    const device = plan.devices[deviceId]
    if (!device) return { ok: false, reason: 'there is no such device in the plan' }
    if (!device.serial) return { ok: false, reason: `${device.name} has no serial in the plan; enter it in Survey first` }
    const serial = typed.trim().toUpperCase()
    if (serial !== device.serial) {
      const near = nearestSerial(serial, [device.serial])
      return { ok: false, reason: near ? `${serial} differs from the plan's ${device.serial} in ${near.distance} ${near.distance === 1 ? 'place' : 'places'}; read the label again` : `${serial} is not the serial of ${device.name}; the plan has ${device.serial}` }
    }
    const [elsewhere] = await tx.select({ siteId: deviceStates.siteId }).from(deviceStates).where(and(eq(deviceStates.claimedSerial, serial), ne(deviceStates.siteId, siteId)))
    if (elsewhere) return { ok: false, reason: `${serial} is claimed by another site already; it has to be given up there first` }
    const row = await lockDevice(tx, siteId, deviceId)
    if (row.claimedSerial !== null) return { ok: true }
    const moved = await advance(tx, row, 'claim', { claimedSerial: serial }, `claimed as ${serial}`)
    if (!moved.ok) return moved
    await tx.insert(log).values({ siteId, accountId, what: `Claimed ${device.name} (${serial})` })
    return { ok: true }
  })
}

export async function release(siteId: string, deviceId: string, accountId: string): Promise<ClaimOutcome> {
  return db().transaction(async (tx): Promise<ClaimOutcome> => {
    const row = await lockDevice(tx, siteId, deviceId)
    const moved = await advance(tx, row, 'release', { claimedSerial: null, tokenHash: null, claimSecretDigest: null, sequence: 0, report: null, configurationDigest: null }, 'given up')
    if (moved.ok) await tx.insert(log).values({ siteId, accountId, what: `Gave up ${deviceId}` })
    return moved.ok ? { ok: true } : moved
  })
}

export async function command(siteId: string, deviceId: string, what: 'fetch' | 'restart' | 'locate', accountId: string): Promise<void> {
  await db().transaction(async (tx) => {
    await tx.insert(deviceCommands).values({ siteId, deviceId, command: what })
    await tx.insert(log).values({ siteId, accountId, what: `Told ${deviceId} to ${what}` })
    await notify(tx, { site: siteId, topic: 'devices' })
  })
}
