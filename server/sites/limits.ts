/** How much one account may open, so that nobody takes what all share. */
import { and, count, eq } from 'drizzle-orm'
import { db } from '../db/database'
import { members } from '../db/schema'

export const MOST_SITES = 200

/** Why an account may open no further site, or undefined. */
export async function noMoreSites(accountId: string): Promise<string | undefined> {
  const [row] = await db()
    .select({ n: count() })
    .from(members)
    .where(and(eq(members.accountId, accountId), eq(members.role, 'owner')))
  return row!.n >= MOST_SITES
    ? `you own ${row!.n} sites and the most are ${MOST_SITES}; remove some first, or hand them over`
    : undefined
}
