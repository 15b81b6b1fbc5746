/** Desired configurations of the newest plan of each site, made once for a revision of the plan and of its secrets. */
import { desiredConfiguration, type DesiredOutcome } from '@mast/core/adoption'
import { siteModel } from '@mast/core/topology'
import { db } from '../db/database'
import { planAt } from '../sites/plans'
import { readSecrets } from '../vault/vault'

/** Sites; the one that nobody asked for the longest goes first. */
const KEPT = 256
interface Made { readonly revision: number; readonly secretsVersion: number; readonly secrets: ReturnType<typeof readSecrets>; readonly byDevice: Map<string, DesiredOutcome> }
const kept = new Map<string, Made>()

function madeFor(siteId: string, revision: number, secretsVersion: number): Made {
  const last = kept.get(siteId)
  const secrets = last?.secretsVersion === secretsVersion ? last.secrets : readSecrets(db(), siteId)
  // Whoever waits for them hears of it; until somebody does, it is nobody's failure.
  secrets.catch(() => {})
  const made = last?.revision === revision && last.secrets === secrets ? last : { revision, secretsVersion, secrets, byDevice: new Map<string, DesiredOutcome>() }
  kept.delete(siteId)
  kept.set(siteId, made)
  if (kept.size > KEPT) kept.delete(kept.keys().next().value!)
  return made
}

/** @param secretsVersion of the site; another one is other configurations */
export async function desiredAt(siteId: string, revision: number, secretsVersion: number, deviceId: string): Promise<DesiredOutcome> {
  const made = madeFor(siteId, revision, secretsVersion)
  const known = made.byDevice.get(deviceId)
  if (known) return known
  try {
    const outcome = desiredConfiguration(siteModel(await planAt(db(), siteId, revision)), deviceId, await made.secrets)
    made.byDevice.set(deviceId, outcome)
    return outcome
  } catch (error) {
    // What could not be read now may be read the next time.
    if (kept.get(siteId) === made) kept.delete(siteId)
    throw error
  }
}
