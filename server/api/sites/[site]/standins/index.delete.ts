import { eq } from 'drizzle-orm'
import { inTransaction } from '../../../../db/database'
import { deviceStates, documents, log, releases, stepsDone, targets } from '../../../../db/schema'
import { siteRoute } from '../../../../http/handlers'
import { notify } from '../../../../live/notices'
import { drop } from '../../../../standins/client'

/**
 * Puts the stand-ins back into their boxes: factory-new, uncabled; claims and ticked steps go with
 * them.
 */
export default siteRoute('engineer', undefined, async ({ site, account }) => {
  await drop(site.id)
  await inTransaction(async (tx) => {
    await tx.delete(deviceStates).where(eq(deviceStates.siteId, site.id))
    // What was sent went to devices that are new again: no release stands, and numbers go on, so
    // that a proof of one is not taken for a proof of another.
    await tx.delete(targets).where(eq(targets.siteId, site.id))
    await tx.delete(documents).where(eq(documents.siteId, site.id))
    await tx
      .update(releases)
      .set({
        state: 'stopped',
        wave: 0,
        why: 'the stand-ins went back into their boxes',
        endedAt: new Date(),
      })
      .where(eq(releases.siteId, site.id))
    await tx.delete(stepsDone).where(eq(stepsDone.siteId, site.id))
    await tx.insert(log).values({
      siteId: site.id,
      accountId: account.id,
      what: 'Put the stand-ins back into their boxes',
    })
    for (const topic of ['devices', 'steps', 'standins', 'releases'] as const)
      await notify(tx, { site: site.id, topic })
  })
  return {}
})
