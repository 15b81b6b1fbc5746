/** Configurations that people load by hand. */
import { siteModel } from '@mast/core/topology'
import { db } from '../db/database'
import { log } from '../db/schema'
import { Refused } from '../refusal'
import { documentOf } from '../releases/documents'
import { targetOf, toldBy } from '../releases/targets'
import { desiredOf } from './devices'

/**
 * What was released for a device, with its firmware; before anything was, what the plan wants; or
 * what is missing.
 */
export async function wantedOn(
  siteId: string,
  deviceId: string,
): Promise<
  { ok: true; configuration: unknown; firmware: string } | { ok: false; missing: readonly string[] }
> {
  const target = await targetOf(db(), siteId, deviceId)
  const told = target && toldBy(target)
  const released = told && (await documentOf(siteId, told.digest))
  if (told && released) return { ok: true, configuration: released, firmware: told.firmware }
  const { plan, outcome } = await desiredOf(siteId, deviceId)
  return outcome.ok
    ? {
        ok: true,
        configuration: outcome.desired.configuration,
        firmware: siteModel(plan).firmwareWanted(deviceId),
      }
    : outcome
}

/**
 * The same for a person. It has keys in it, so the log keeps that somebody looked.
 * @throws Refused where the plan does not say enough
 */
export async function preparedFor(
  siteId: string,
  deviceId: string,
  accountId: string,
): Promise<unknown> {
  const wanted = await wantedOn(siteId, deviceId)
  if (!wanted.ok) throw new Refused('not-possible', `missing: ${wanted.missing.join(', ')}`)
  await db()
    .insert(log)
    .values({
      siteId,
      accountId,
      what: `Looked at the configuration of ${deviceId}, with its keys`,
    })
  return wanted.configuration
}
