import { and, asc, desc, eq, sql } from 'drizzle-orm'
import { db } from '../db/database'
import { accounts, releases, targets } from '../db/schema'
import { standingRelease } from './standing'

const MOST = 50

interface ReleaseLine {
  readonly number: number
  readonly revision: number
  readonly state: 'sending' | 'done' | 'stopped'
  readonly why: string
  readonly note: string
  readonly who: string | null
  readonly at: Date
  readonly endedAt: Date | null
  readonly wave: number
  readonly waves: number
  readonly applyAt: Date | null
}
/** Of the release under way: where each device of its waves is. */
export interface UnderWay {
  readonly deviceId: string
  readonly wave: number
  readonly at: 'waits' | 'fetches' | 'holds' | 'tries' | 'kept'
}

export async function releasesOf(siteId: string): Promise<{
  releases: ReleaseLine[]
  standing: number | null
  standingRevision: number | null
  underWay: UnderWay[]
}> {
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
