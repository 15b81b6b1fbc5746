/**
 * Channels planned anew at night, where a site asks for it: by what is heard, saved as a revision
 * of the controller's own and sent to the devices like any other. What nobody sent yet is not sent
 * along: then it waits.
 */
import { and, eq, isNotNull, isNull, ne, or } from 'drizzle-orm'
import { runEdits } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { channelsAnew } from '@mast/core/wifi'
import { db, inTransaction } from '../db/database'
import { log, sites } from '../db/schema'
import { Refused } from '../refusal'
import { standingRelease } from '../releases/standing'
import { sendRelease } from '../releases/send'
import { planOf } from '../sites/plans'
import { createRevision } from '../sites/revisions'
import { inThread } from '../work/workers'
import { dueDay } from './due'

/** As who it is in histories. */
const CONTROLLER = 'the controller'
const MOST_MS = 120_000

/** Looks which sites have their minute now, and plans them anew once a day. */
export async function sweepReplans(now = new Date()): Promise<void> {
  const all = await db()
    .select({
      id: sites.id,
      head: sites.head,
      minute: sites.replanMinute,
      timeZone: sites.timeZone,
      on: sites.replannedOn,
    })
    .from(sites)
    .where(isNotNull(sites.replanMinute))
  for (const { id, head, minute, timeZone, on } of all) {
    const day = dueDay(timeZone ?? 'UTC', minute!, now)
    if (day === null || on === day) continue
    const standing = await standingRelease(db(), id)
    if (standing?.revision !== head) continue
    // Of several servers one does it.
    const [mine] = await db()
      .update(sites)
      .set({ replannedOn: day })
      .where(and(eq(sites.id, id), or(isNull(sites.replannedOn), ne(sites.replannedOn, day))))
      .returning({ id: sites.id })
    if (mine) await inThread('replan', { siteId: id }, { accountId: null, maxMs: MOST_MS })
  }
}
/** In a thread. */
export async function replanNow({ siteId }: { siteId: string }): Promise<null> {
  const { plan, revision } = await planOf(db(), siteId)
  const note = async (what: string): Promise<null> => {
    await db().insert(log).values({ siteId, accountId: null, who: CONTROLLER, what })
    return null
  }
  const { edits, text } = channelsAnew(siteModel(plan))
  if (edits.length === 0) return note(`Channels stay as they are: ${text}`)
  const outcome = runEdits(plan, text, edits)
  if (!outcome.ok) return note(`Channels stay as they are: ${outcome.problems[0]!.reason}`)
  const number = revision + 1
  const isSaved = await inTransaction(async (tx) => {
    const [site] = await tx
      .select({ head: sites.head })
      .from(sites)
      .where(eq(sites.id, siteId))
      .for('no key update')
    // Somebody was quicker: what they changed is theirs to send.
    if (site?.head !== revision) return false
    const { patches, inverse } = outcome
    const made = { number, plan: outcome.plan, patches, inverse, summary: text, changeId: null }
    await createRevision(tx, siteId, plan, made, null, CONTROLLER)
    return true
  })
  if (!isSaved) return note('Channels stay as they are: the plan was changed meanwhile')
  try {
    await sendRelease({
      ...{ siteId, revision: number, note: text, accountId: null, sender: null },
      onlyFirst: false,
    })
  } catch (error) {
    if (!(error instanceof Refused)) throw error
    return note(`${text}, and not sent: ${error.message}`)
  }
  return null
}
