/**
 * What a device runs that nobody released: asked for when its digest is not known, kept sealed for
 * as long as it runs it, and compared line by line with what it was sent.
 */
import type { readDifference, ReplySent, takeOver } from '@mast/api'
import { differencesOf, takeTheirs, type Difference } from '@mast/core/adoption'
import { digestOf, own } from '@mast/core/plan'
import type { Configuration, Running } from '@mast/protocol'
import { and, eq } from 'drizzle-orm'
import { db, inTransaction } from '../db/database'
import { deviceStates, sites } from '../db/schema'
import { notify } from '../live/notices'
import { Refused, siteIsGone } from '../refusal'
import { documentOf, forgetDocuments, keepDocuments } from '../releases/documents'
import { targetOf, toldBy } from '../releases/targets'
import { planAt } from '../sites/plans'
import { readSecrets } from '../vault/vault'
import { unauthorised } from './refusals'

/** @throws Refused where it is not what the device said that it runs */
export async function keepRunning(
  tokenHash: string,
  { digest, configuration }: Running,
): Promise<object> {
  if (digestOf(configuration) !== digest)
    throw new Refused('invalid', 'the digest is not that of the configuration')
  await inTransaction(async (tx) => {
    const [row] = await tx
      .select({
        siteId: deviceStates.siteId,
        deviceId: deviceStates.deviceId,
        runs: deviceStates.configurationDigest,
      })
      .from(deviceStates)
      .where(eq(deviceStates.tokenHash, tokenHash))
      .for('update')
    if (!row) throw unauthorised()
    if (row.runs !== digest)
      throw new Refused('out-of-turn', 'its last report names another configuration')
    await keepDocuments(tx, row.siteId, [{ digest, configuration }])
    // So that each device has one kept beside what it was sent, and no more.
    await forgetDocuments(tx, row.siteId)
    await notify(tx, { site: row.siteId, topic: 'devices', device: row.deviceId })
  })
  return {}
}

interface Known {
  readonly told: Configuration
  readonly runs: Configuration
}

/** What it was told and what it runs, where both are known and differ. */
async function known(siteId: string, deviceId: string): Promise<Known | string> {
  const [row] = await db()
    .select({ runs: deviceStates.configurationDigest })
    .from(deviceStates)
    .where(and(eq(deviceStates.siteId, siteId), eq(deviceStates.deviceId, deviceId)))
  if (!row?.runs) return 'it has not said yet that it runs any configuration'
  const target = await targetOf(db(), siteId, deviceId)
  const was = target && toldBy(target)
  const told = was && (await documentOf(siteId, was.digest))
  if (!told) return 'nothing was sent to it yet'
  const runs = await documentOf(siteId, row.runs)
  return runs ? { told, runs } : 'it has not sent yet what it runs; that comes with its next report'
}

/** Lines for which it is worked out beforehand whether the plan can take them. */
const MOST_TRIED = 60
const MOST_LINES = 500

export async function differenceOf(
  siteId: string,
  deviceId: string,
): Promise<ReplySent<typeof readDifference>> {
  const both = await known(siteId, deviceId)
  if (typeof both === 'string') return { says: both, lines: [], more: 0 }
  const all = differencesOf(both.told, both.runs)
  const lines = all.slice(0, MOST_LINES)
  const at = await planAndSecrets(siteId, deviceId)
  const says = new Map<Difference, string>()
  for (const line of lines.slice(0, MOST_TRIED)) {
    // Others get their turn: each is tried on the whole plan.
    await new Promise((r) => setImmediate(r))
    const { edits, refused } = takeTheirs(at.plan, deviceId, both.runs, at.secrets, [line.path])
    if (refused[0]) says.set(line, refused[0].says)
    else if (edits.length === 0) says.set(line, 'the plan has it already; send it')
  }
  for (const line of lines.slice(MOST_TRIED))
    says.set(line, `settle the first ${MOST_TRIED} lines before this one is tried`)
  return {
    says: null,
    lines: lines.map((d) => ({
      path: [...d.path],
      where: d.where,
      sent: d.before,
      runs: d.after,
      cannot: says.get(d) ?? null,
    })),
    more: all.length - lines.length,
  }
}

/** The edits that bring the lines into the newest plan. */
export async function takenOver(
  siteId: string,
  deviceId: string,
  paths: readonly (readonly string[])[],
): Promise<ReplySent<typeof takeOver>> {
  const both = await known(siteId, deviceId)
  if (typeof both === 'string') throw new Refused('not-possible', both)
  const { plan, secrets } = await planAndSecrets(siteId, deviceId)
  const { edits, refused } = takeTheirs(plan, deviceId, both.runs, secrets, paths)
  return {
    edits: edits.map(({ name, args }) => ({ name, args: args as Record<string, unknown> })),
    refused: refused.map(({ path, says }) => ({ path: [...path], says })),
  }
}

async function planAndSecrets(siteId: string, deviceId: string) {
  const [site] = await db().select({ head: sites.head }).from(sites).where(eq(sites.id, siteId))
  if (!site) throw siteIsGone()
  const plan = await planAt(db(), siteId, site.head)
  if (!own(plan.devices, deviceId))
    throw new Refused('not-there', 'the device is not in the plan any more')
  return { plan, secrets: await readSecrets(db(), siteId) }
}
