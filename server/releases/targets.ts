/**
 * What each device is told: the document of its release, or the one before while its wave has not
 * come.
 */
import { and, eq } from 'drizzle-orm'
import { waveTimes, type Told } from '@mast/core/release'
import type { Report } from '@mast/protocol'
import type { Executor } from '../db/database'
import { deviceEvents, deviceStates, documents, targets } from '../db/schema'
import { documentsOf } from './documents'

export type Target = typeof targets.$inferSelect
export interface ToldNow {
  readonly release: number
  readonly digest: string
  readonly firmware: string
  readonly profileId: string
  readonly trialSeconds: number
  readonly apply: 'at-once' | 'when-told'
}

export function toldBy(
  t: Pick<
    Target,
    'release' | 'digest' | 'firmware' | 'profileId' | 'trialSeconds' | 'state' | 'before'
  >,
): ToldNow | null {
  if (t.state === 'waiting') return t.before && { ...t.before, apply: 'at-once' }
  const { release, digest, firmware, profileId, trialSeconds } = t
  return {
    release,
    digest,
    firmware,
    profileId,
    trialSeconds,
    apply: t.state === 'open' ? 'when-told' : 'at-once',
  }
}

export async function targetOf(
  at: Executor,
  siteId: string,
  deviceId: string,
): Promise<Target | undefined> {
  const [row] = await at
    .select()
    .from(targets)
    .where(and(eq(targets.siteId, siteId), eq(targets.deviceId, deviceId)))
  return row
}

export async function targetsOf(at: Executor, siteId: string): Promise<Map<string, Target>> {
  return new Map(
    (await at.select().from(targets).where(eq(targets.siteId, siteId))).map((t) => [t.deviceId, t]),
  )
}

/** What devices have, as a release is compared with. */
export async function toldOf(at: Executor, siteId: string): Promise<Told[]> {
  const now = [...(await targetsOf(at, siteId))].flatMap(([deviceId, t]) => {
    const told = toldBy(t)
    return told ? [{ deviceId, ...told }] : []
  })
  const configurations = await documentsOf(
    at,
    siteId,
    now.map((t) => t.digest),
  )
  return now.flatMap((t): Told[] => {
    const configuration = configurations.get(t.digest)
    return configuration
      ? [{ deviceId: t.deviceId, digest: t.digest, firmware: t.firmware, configuration }]
      : []
  })
}

/** How long one device tries a document by itself, s. */
export const trialSecondsOf = (waits: {
  bootSeconds: number
  firmwareSeconds: number
  applySeconds: number
}): number => waveTimes([waits], false).trialSeconds

/**
 * A device that went back by itself is told what it runs from then on, so that it does not try for
 * ever what does not work where it is.
 * Of one that loads with others, its wave decides.
 */
export async function settleWentBack(
  tx: Executor,
  t: Pick<Target, 'siteId' | 'deviceId' | 'state' | 'digest' | 'before' | 'release'>,
  r: Report,
): Promise<void> {
  if (t.state !== 'kept' || r.wentBackFrom !== t.digest || r.configurationDigest === null) return
  const at = and(eq(targets.siteId, t.siteId), eq(targets.deviceId, t.deviceId))
  const [known] = await tx
    .select({ digest: documents.digest })
    .from(documents)
    .where(and(eq(documents.siteId, t.siteId), eq(documents.digest, r.configurationDigest)))
  if (!known) return
  await tx
    .update(targets)
    .set({
      digest: r.configurationDigest,
      firmware: r.firmware,
      release: t.before?.release ?? 0,
      before: null,
      wentBack: true,
    })
    .where(at)
  const [state] = await tx
    .select({ state: deviceStates.state })
    .from(deviceStates)
    .where(and(eq(deviceStates.siteId, t.siteId), eq(deviceStates.deviceId, t.deviceId)))
  const now = state?.state ?? 'in-service'
  await tx.insert(deviceEvents).values({
    siteId: t.siteId,
    deviceId: t.deviceId,
    event: 'went-back',
    fromState: now,
    toState: now,
    detail: `release ${t.release}: nobody confirmed it, so it runs what it ran before`,
  })
}
