/** Desired configurations, made once for each revision of the plan and of its secrets. */
import { desiredConfiguration, type DesiredOutcome } from '@mast/core/adoption'
import { siteModel } from '@mast/core/topology'
import { db } from '../db/database'
import { planAt } from '../sites/plans'
import { readSecrets } from '../vault/vault'

const KEPT = 64
const kept = new Map<string, Map<string, DesiredOutcome>>()

/** @param secretsVersion of the site; another one is other configurations */
export async function desiredAt(siteId: string, revision: number, secretsVersion: number, deviceId: string): Promise<DesiredOutcome> {
  const key = `${siteId}@${revision}/${secretsVersion}`
  let made = kept.get(key)
  if (!made) {
    made = new Map()
    kept.set(key, made)
    if (kept.size > KEPT) kept.delete(kept.keys().next().value!)
  }
  const known = made.get(deviceId)
  if (known) return known
  const plan = await planAt(db(), siteId, revision)
  const outcome = desiredConfiguration(siteModel(plan), deviceId, await readSecrets(db(), siteId))
  made.set(deviceId, outcome)
  return outcome
}
