import { and, eq, gt, inArray, isNotNull } from 'drizzle-orm'
import { silenceMs } from '@mast/core/adoption'
import type { Executor } from '../db/database'
import { deviceStates } from '../db/schema'

/** Devices that run a configuration and are heard. */
export async function liveDevices(
  at: Executor,
  siteId: string,
  clockSpeed: number,
): Promise<string[]> {
  const rows = await at
    .select({ deviceId: deviceStates.deviceId })
    .from(deviceStates)
    .where(
      and(
        eq(deviceStates.siteId, siteId),
        isNotNull(deviceStates.claimedSerial),
        isNotNull(deviceStates.configurationDigest),
        inArray(deviceStates.state, ['in-service', 'drifted', 'loading']),
        gt(deviceStates.lastHeardAt, new Date(Date.now() - silenceMs(clockSpeed))),
      ),
    )
  return rows.map((r) => r.deviceId).sort()
}
