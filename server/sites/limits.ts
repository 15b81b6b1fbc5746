/** How much one account may open, so that nobody takes what all share. */
import { and, count, eq } from 'drizzle-orm'
import { db } from '../db/database'
import { members } from '../db/schema'
import { Refused } from '../refusal'

export const MOST_SITES = 200

/** @throws Refused where an account may open no further site. */
export async function roomForASite(accountId: string): Promise<void> {
  const [row] = await db()
    .select({ n: count() })
    .from(members)
    .where(and(eq(members.accountId, accountId), eq(members.role, 'owner')))
  if (row!.n >= MOST_SITES)
    throw new Refused(
      'not-possible',
      `you own ${row!.n} sites and the most are ${MOST_SITES}; remove some first, or hand them over`,
    )
}
