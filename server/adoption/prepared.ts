/** Configurations that people load by hand. */
import { db } from '../db/database'
import { log } from '../db/schema'
import { Refused } from '../refusal'
import { documentOf } from '../releases/documents'
import { targetOf, toldBy } from '../releases/targets'
import { desiredOf } from './devices'

/**
 * What was released for a device; before anything was, what the plan wants. It has keys in it, so
 * the log keeps that somebody looked.
 * @throws Refused where the plan does not say enough
 */
export async function preparedFor(
  siteId: string,
  deviceId: string,
  accountId: string,
): Promise<unknown> {
  const target = await targetOf(db(), siteId, deviceId)
  const told = target && toldBy(target)
  const document =
    (told && (await documentOf(siteId, told.digest))) ?? (await planned(siteId, deviceId))
  await db()
    .insert(log)
    .values({
      siteId,
      accountId,
      what: `Looked at the configuration of ${deviceId}, with its keys`,
    })
  return document
}

async function planned(siteId: string, deviceId: string): Promise<unknown> {
  const { outcome } = await desiredOf(siteId, deviceId)
  if (!outcome.ok) throw new Refused('not-possible', `missing: ${outcome.missing.join(', ')}`)
  return outcome.desired.configuration
}
