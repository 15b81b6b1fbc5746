/** Tries a failover on the stand-ins of a site and keeps it as evidence. */
import { outsideAsks } from '@mast/core/forwarding'
import { siteModel } from '@mast/core/topology'
import { drillExpected, judgeDrill, turnOf, type Drill, type DrillKind } from '@mast/core/uplinks'
import { db, inTransaction } from '../db/database'
import { evidence, log } from '../db/schema'
import { notify } from '../live/notices'
import { standingRelease } from '../releases/standing'
import { Refused } from '../refusal'
import { planAt } from '../sites/plans'
import { drill, show } from '../standins/client'

/** How much longer than foretold a return is waited for, s. */
const LONGER_SECONDS = 120
/** Nobody waits longer for a return, s. */
const MOST_SECONDS = 14_400

export interface Asked {
  readonly lineId?: string | undefined
  readonly kind: DrillKind
  readonly outageSeconds: number
  readonly isAfterRestart: boolean
}

/** @throws Refused where there is nothing to go over to, or where nobody gets out beforehand. */
export async function tryFailover(siteId: string, accountId: string, asked: Asked): Promise<Drill> {
  const { revision: newest, release } = await show(siteId)
  // Of what devices run, as a proof is.
  const revision = (await standingRelease(db(), siteId))?.revision ?? newest
  const model = siteModel(await planAt(db(), siteId, revision))
  const turn = turnOf(model, asked.lineId)
  if (!turn)
    throw new Refused(
      'not-possible',
      asked.lineId
        ? 'in the plan that devices run no other line takes over from it'
        : 'the plan has fewer than two lines in sockets',
    )
  const { line, away } = turn
  const expected = drillExpected(model, turn, asked.kind)
  const seen = await drill(siteId, {
    lineId: line.id,
    away: away.map((u) => u.id),
    kind: asked.kind,
    outageSeconds: asked.outageSeconds,
    returnSeconds: expected.back ? Math.min(MOST_SECONDS, expected.back.worst + LONGER_SECONDS) : 0,
    asks: outsideAsks(model),
  })
  if (!seen.ok) throw new Refused('not-possible', seen.text)
  const body: Drill = {
    lineId: line.id,
    kind: asked.kind,
    overSeconds: seen.overSeconds,
    backSeconds: seen.backSeconds,
    measuredBy: 'stand-ins',
    isAfterRestart: asked.isAfterRestart,
    segments: seen.segments,
  }
  const { text } = judgeDrill(model, body)
  await inTransaction(async (tx) => {
    await tx.insert(evidence).values({
      siteId,
      kind: 'drill',
      source: 'standins',
      revision,
      release: release || null,
      accountId,
      body: { text, drill: body },
    })
    await tx
      .insert(log)
      .values({ siteId, accountId, what: `Tried the failover of ${line.name}: ${text}` })
    for (const topic of ['evidence', 'standins'] as const) await notify(tx, { site: siteId, topic })
  })
  return body
}
