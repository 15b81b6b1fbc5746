/** The claims of a site in its file, so that devices that go over to another controller are known there. */
import { and, asc, eq, inArray, isNotNull } from 'drizzle-orm'
import { z } from 'zod'
import type { SitePlan } from '@mast/core/plan'
import { advance, lockDevice } from '../adoption/devices'
import type { Executor } from '../db/database'
import { deviceStates } from '../db/schema'

export const claimsSchema = z
  .array(
    z.strictObject({
      deviceId: z.string().max(64),
      serial: z.string().max(32),
      /** SHA-256 of what the device alone knows; null of one that never called. */
      secretDigest: z
        .string()
        .regex(/^[0-9a-f]{64}$/)
        .nullable(),
    }),
  )
  .max(100_000)
export type ClaimsContent = z.infer<typeof claimsSchema>

export async function claimsOut(at: Executor, siteId: string): Promise<ClaimsContent> {
  const rows = await at
    .select({
      deviceId: deviceStates.deviceId,
      serial: deviceStates.claimedSerial,
      secretDigest: deviceStates.claimSecretDigest,
    })
    .from(deviceStates)
    .where(and(eq(deviceStates.siteId, siteId), isNotNull(deviceStates.claimedSerial)))
    .orderBy(asc(deviceStates.deviceId))
  return rows.map((r) => ({ ...r, serial: r.serial! }))
}

/** Gives how many were taken over: what another site here has claimed stays there. */
export async function claimsIn(
  tx: Executor,
  siteId: string,
  plan: SitePlan,
  claims: ClaimsContent,
): Promise<number> {
  const planned = claims.filter((c) => plan.devices[c.deviceId]?.serial === c.serial)
  const serials = planned.map((c) => c.serial)
  const taken = new Set(
    serials.length === 0
      ? []
      : (
          await tx
            .select({ serial: deviceStates.claimedSerial })
            .from(deviceStates)
            .where(inArray(deviceStates.claimedSerial, serials))
        ).map((r) => r.serial),
  )
  const free = planned.filter((c) => !taken.has(c.serial))
  for (const { deviceId, serial, secretDigest } of free)
    await advance(
      tx,
      await lockDevice(tx, siteId, deviceId),
      'claim',
      { claimedSerial: serial, claimSecretDigest: secretDigest },
      `claimed as ${serial} at the controller that it comes from`,
    )
  return free.length
}
