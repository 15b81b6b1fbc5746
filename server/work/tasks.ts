/**
 * What threads do, by name. Given and gives plain data; reads and writes the database on
 * connections of its own.
 */
import { createPlan, parsePlan, type PlanProblem } from '@mast/core/plan'
import { db } from '../db/database'
import { parseJson } from '../http/body'
import { exportSite, importSite, type ImportOutcome } from '../portable/transfer'
import { keepProof, testsToAsk } from '../proof/run'
import type { Sender } from '@mast/core/release'
import { previewOf, sendRelease } from '../releases/send'
import { createSite } from '../sites/create'
import { glanceAt, type Glance } from '../sites/glance'
import { bringInSchema, openSchema } from '../sites/requests'
import { planAt } from '../sites/plans'
import { saveNow, type SaveGiven, type SaveOutcome } from '../sites/revisions'

export const glance = async ({
  siteId,
  revision,
}: {
  siteId: string
  revision: number
}): Promise<Glance> => glanceAt(await planAt(db(), siteId, revision))

/** @param octets of a request that `bringInSchema` describes */
export async function bringIn({
  octets,
  accountId,
}: {
  octets: Uint8Array
  accountId: string
}): Promise<ImportOutcome> {
  const body = read(octets)
  if ('reason' in body) return { ok: false, reason: body.reason }
  const given = bringInSchema.safeParse(body.value)
  if (!given.success)
    return { ok: false, reason: `the request is not valid: ${given.error.issues[0]!.message}` }
  return importSite(given.data.file, given.data.passphrase, accountId)
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

export type OpenOutcome =
  | { ok: true; id: string; revision: number }
  | {
      ok: false
      status: 400 | 422
      message: string
      problems?: readonly (PlanProblem | { path: PropertyKey[]; reason: string })[]
    }

/**
 * A new site, empty or from a plan document.
 * @param octets of a request that `openSchema` describes
 */
export async function open({
  octets,
  accountId,
}: {
  octets: Uint8Array
  accountId: string
}): Promise<OpenOutcome> {
  const body = read(octets)
  if ('reason' in body) return { ok: false, status: 400, message: body.reason }
  const given = openSchema.safeParse(body.value)
  if (!given.success)
    return {
      ok: false,
      status: 400,
      message: 'the request is not valid',
      problems: given.error.issues.slice(0, 20).map((i) => ({ path: i.path, reason: i.message })),
    }
  const { name, plan } = given.data
  if (plan === undefined) return { ok: true, ...(await createSite(createPlan(name), accountId)) }
  const parsed = parsePlan(plan)
  if (!parsed.ok)
    return {
      ok: false,
      status: 422,
      message: 'this plan cannot be used',
      problems: parsed.problems.slice(0, 50),
    }
  return {
    ok: true,
    ...(await createSite({ ...parsed.plan, site: { ...parsed.plan.site, name } }, accountId)),
  }
}

export const save = ({
  siteId,
  given,
  accountId,
}: {
  siteId: string
  given: SaveGiven
  accountId: string
}): Promise<SaveOutcome> => saveNow(siteId, given, accountId)

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

function read(octets: Uint8Array): { value: unknown } | { reason: string } {
  try {
    return { value: parseJson(octets) }
  } catch (error) {
    return { reason: (error as Error).message }
  }
}
