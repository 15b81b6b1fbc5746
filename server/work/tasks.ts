/**
 * What threads do, by name. Given and gives plain data; reads and writes the database on
 * connections of its own.
 */
import { bringInSite, openSite, type SaveGiven } from '@mast/api'
import { createPlan, parsePlan } from '@mast/core/plan'
import { db } from '../db/database'
import { parseJson } from '../given/json'
import { validated } from '../given/validated'
import { exportSite, importSite } from '../portable/transfer'
import { keepProof, testsToAsk } from '../proof/run'
import type { Sender } from '@mast/core/release'
import { previewOf, sendRelease } from '../releases/send'
import { createSite } from '../sites/create'
import { glanceAt, type Glance } from '../sites/glance'
import { planAt } from '../sites/plans'
import { replanNow } from '../nightly/replan'
import { Refused } from '../refusal'
import { saveNow } from '../sites/revisions'

export const glance = async ({
  siteId,
  revision,
}: {
  siteId: string
  revision: number
}): Promise<Glance> => glanceAt(await planAt(db(), siteId, revision))

/** @param octets of a request to bring a site in */
export async function bringIn({
  octets,
  accountId,
}: {
  octets: Uint8Array
  accountId: string
}): Promise<{ id: string; revision: number }> {
  const { file, passphrase } = validated(bringInSite.body, parseJson(octets))
  return importSite(file, passphrase, accountId)
}

export async function takeOut({
  siteId,
  passphrase,
  accountId,
}: {
  siteId: string
  passphrase: string | null
  accountId: string
}): Promise<Uint8Array | undefined> {
  const text = await exportSite(siteId, passphrase, accountId)
  return text === undefined ? undefined : new TextEncoder().encode(text)
}

/**
 * A new site, empty or from a plan document.
 * @param octets of a request to open one
 */
export async function open({
  octets,
  accountId,
}: {
  octets: Uint8Array
  accountId: string
}): Promise<{ id: string; revision: number }> {
  const { name, plan } = validated(openSite.body, parseJson(octets))
  if (plan === undefined) return createSite(createPlan(name), accountId)
  const parsed = parsePlan(plan)
  if (!parsed.ok)
    throw new Refused('not-possible', 'this plan cannot be used', {
      problems: parsed.problems.slice(0, MOST_PROBLEMS),
    })
  return createSite({ ...parsed.plan, site: { ...parsed.plan.site, name } }, accountId)
}
const MOST_PROBLEMS = 50

export const save = ({
  siteId,
  given,
  accountId,
}: {
  siteId: string
  given: SaveGiven
  accountId: string
}): ReturnType<typeof saveNow> => saveNow(siteId, given, accountId)

export const testsOf = ({
  siteId,
  revision,
  only,
}: {
  siteId: string
  revision: number
  only: readonly string[] | null
}): ReturnType<typeof testsToAsk> => testsToAsk(siteId, revision, only)
export const judgeProof = keepProof
export const previewRelease = ({
  siteId,
  revision,
  sender,
}: {
  siteId: string
  revision: number
  sender: Sender | null
}): ReturnType<typeof previewOf> => previewOf(siteId, revision, sender)
export const release = sendRelease
export const replan = replanNow
