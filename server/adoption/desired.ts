/**
 * Desired configurations of the newest plan of each site, made once for a revision of the plan and
 * of its secrets.
 */
import { LRUCache } from 'lru-cache'
import { desiredConfiguration, type DesiredOutcome } from '@mast/core/adoption'
import type { SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { db } from '../db/database'
import { planAt } from '../sites/plans'
import { readSecrets } from '../vault/vault'

/** Sites; the one that nobody asked for the longest goes first. */
const KEPT = 256
interface Made {
  readonly revision: number
  readonly secretsVersion: number
  readonly secrets: ReturnType<typeof readSecrets>
  /** The plan that the configurations were made of; undefined until it is read. */
  plan: SitePlan | undefined
  byDevice: Map<string, DesiredOutcome>
}

/** What devices are told nothing of. */
const untold: ReadonlySet<string> = new Set([
  ...['locations', 'knownNetworks'],
  ...['floors', 'walls', 'areas', 'clientTypes', 'walks', 'scans'],
])
/**
 * Whether two plans tell devices the same: what a revision left alone is the very object that it
 * was.
 */
const tellTheSame = (a: SitePlan, b: SitePlan): boolean =>
  (Object.keys(a) as (keyof SitePlan)[]).every((part) => untold.has(part) || a[part] === b[part])
const kept = new LRUCache<string, Made>({ max: KEPT })
/**
 * What was made of an earlier revision, until it is known whether this one tells devices the same.
 */
const before = new WeakMap<Made, Made>()

function madeFor(siteId: string, revision: number, secretsVersion: number): Made {
  const last = kept.get(siteId)
  const secrets = last?.secretsVersion === secretsVersion ? last.secrets : readSecrets(db(), siteId)
  // Whoever waits for them hears of it; until somebody does, it is nobody's failure.
  secrets.catch(() => {})
  const isLast = last?.revision === revision && last.secrets === secrets
  const made: Made = isLast
    ? last
    : { revision, secretsVersion, secrets, plan: undefined, byDevice: new Map() }
  if (!isLast && last?.plan && last.secrets === secrets) before.set(made, last)
  kept.set(siteId, made)
  return made
}

/** @param secretsVersion of the site; another one is other configurations */
export async function desiredAt(
  siteId: string,
  revision: number,
  secretsVersion: number,
  deviceId: string,
): Promise<DesiredOutcome> {
  const made = madeFor(siteId, revision, secretsVersion)
  const known = made.byDevice.get(deviceId)
  if (known) return known
  try {
    const plan = await planAt(db(), siteId, revision)
    const secrets = await made.secrets
    if (!made.plan) {
      const earlier = before.get(made)
      if (earlier?.plan && tellTheSame(earlier.plan, plan)) made.byDevice = earlier.byDevice
      made.plan = plan
      before.delete(made)
    }
    const outcome =
      made.byDevice.get(deviceId) ?? desiredConfiguration(siteModel(plan), deviceId, secrets)
    made.byDevice.set(deviceId, outcome)
    return outcome
  } catch (error) {
    // What could not be read now may be read the next time.
    if (kept.get(siteId) === made) kept.delete(siteId)
    throw error
  }
}
