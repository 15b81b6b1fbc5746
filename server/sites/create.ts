/** A new site with its owner, its first revision and the secrets that it starts with. */
import { eq } from 'drizzle-orm'
import { SITE_PASSWORD } from '@mast/core/bringup'
import type { SitePlan } from '@mast/core/plan'
import { inTransaction } from '../db/database'
import { log, members, sites } from '../db/schema'
import { inventSecret, writeSecret } from '../vault/vault'
import { freeSiteId } from '../portable/transfer'
import { createRevision } from './revisions'

export async function createSite(
  plan: SitePlan,
  ownerId: string,
): Promise<{ id: string; revision: number }> {
  return inTransaction(async (tx) => {
    const id = await freeSiteId(tx, plan.site.name)
    await tx.insert(sites).values({ id, name: plan.site.name })
    await tx.insert(members).values({ siteId: id, accountId: ownerId, role: 'owner' })
    await createRevision(
      tx,
      id,
      null,
      { number: 1, plan, patches: [], inverse: [], summary: 'Site opened', changeId: null },
      ownerId,
    )
    await writeSecret(tx, id, SITE_PASSWORD, inventSecret())
    for (const w of Object.values(plan.wirelessNetworks))
      if (w.keyRef) await writeSecret(tx, id, w.keyRef, inventSecret())
    const keys = Object.values(plan.bridges).flatMap((b) => [b.a.keyRef, b.b.keyRef])
    for (const ref of new Set(keys.filter((k) => k !== '')))
      await writeSecret(tx, id, ref, inventSecret())
    for (const u of Object.values(plan.uplinks))
      if (u.handOff.passwordRef) await writeSecret(tx, id, u.handOff.passwordRef, inventSecret())
    return { id, revision: 1 }
  })
}

export async function remove(siteId: string, accountId: string): Promise<void> {
  await inTransaction(async (tx) => {
    // Whoever writes something of a site holds its row before the log's turn; so does who removes
    // it, or each would wait for the other.
    await tx.select({ id: sites.id }).from(sites).where(eq(sites.id, siteId)).for('update')
    await tx
      .insert(log)
      .values({ siteId, accountId, what: 'Removed the site with all its revisions' })
    await tx.delete(sites).where(eq(sites.id, siteId))
  })
}
