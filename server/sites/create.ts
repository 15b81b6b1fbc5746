/** A new site with its owner, its first revision and the secrets that it starts with. */
import { eq } from 'drizzle-orm'
import { idFor } from '@mast/core/formats'
import type { SitePlan } from '@mast/core/plan'
import { db } from '../db/database'
import { members, sites } from '../db/schema'
import { inventSecret, writeSecret } from '../vault/vault'
import { createRevision } from './revisions'

/** The password that replaces the factory one on every device of the site. */
export const SITE_PASSWORD = 'site-password'

export async function createSite(plan: SitePlan, ownerId: string): Promise<{ id: string; revision: number }> {
  return db().transaction(async (tx) => {
    const taken = new Set((await tx.select({ id: sites.id }).from(sites)).map((s) => s.id))
    const id = idFor(plan.site.name, taken)
    await tx.insert(sites).values({ id, name: plan.site.name })
    await tx.insert(members).values({ siteId: id, accountId: ownerId, role: 'owner' })
    await createRevision(tx, id, 1, plan, [], [], 'Site opened', ownerId)
    await writeSecret(tx, id, SITE_PASSWORD, inventSecret())
    for (const w of Object.values(plan.wirelessNetworks)) if (w.keyRef) await writeSecret(tx, id, w.keyRef, inventSecret())
    return { id, revision: 1 }
  })
}

export const removeSite = async (siteId: string): Promise<void> => {
  await db().delete(sites).where(eq(sites.id, siteId))
}
