import type { readReleases, ReplySent, UnderWay } from '@mast/api'
import { and, asc, desc, eq, sql } from 'drizzle-orm'
import { db } from '../db/database'
import { accounts, releases, targets } from '../db/schema'
import { standingRelease } from './standing'

const MOST = 50

export async function releasesOf(siteId: string): Promise<ReplySent<typeof readReleases>> {
  const list = await db()
    .select({
      number: releases.number,
      revision: releases.revision,
      state: releases.state,
      why: releases.why,
      note: releases.note,
      who: accounts.name,
      at: releases.at,
      endedAt: releases.endedAt,
      wave: releases.wave,
      waves: releases.waves,
      applyAt: releases.applyAt,
      goesOver: releases.goesOver,
    })
    .from(releases)
    .leftJoin(accounts, eq(accounts.id, releases.accountId))
    .where(eq(releases.siteId, siteId))
    .orderBy(desc(releases.number))
    .limit(MOST)
  const standing = await standingRelease(db(), siteId)
  const sending = list.find((r) => r.state === 'sending')
  const rows = sending
    ? await db()
        .select()
        .from(targets)
        .where(
          and(
            eq(targets.siteId, siteId),
            eq(targets.release, sending.number),
            sql`${targets.wave} > 0`,
          ),
        )
        .orderBy(asc(targets.wave), asc(targets.deviceId))
    : []
  const underWay = rows.map((t): UnderWay => ({
    deviceId: t.deviceId,
    wave: t.wave,
    at:
      t.state === 'kept'
        ? 'kept'
        : t.state === 'waiting'
          ? 'waits'
          : t.appliedAt
            ? 'tries'
            : t.heldAt
              ? 'holds'
              : 'fetches',
  }))
  return {
    releases: list,
    standing: standing?.number ?? null,
    standingRevision: standing?.revision ?? null,
    underWay,
  }
}
