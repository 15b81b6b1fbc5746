/** How many clients are on the air in each hour of the day, from what access points report. */
import { and, asc, eq, gt, sql } from 'drizzle-orm'
import { weekMinuteAt } from '@mast/core/plan'
import type { ClientHour } from '@mast/core/wifi'
import { db } from '../db/database'
import { clientHours, deviceStates, sites } from '../db/schema'

/** What was reported longer ago, ms, says nothing of now. */
const FRESH_MS = 10 * 60_000
/** What was long ago weighs less: a mean over about a week of minutes of the hour. */
const MOST_SAMPLES = 840

/** One sample of each site whose access points report clients. */
export async function sampleClients(now = new Date()): Promise<void> {
  const rows = await db()
    .select({
      siteId: deviceStates.siteId,
      timeZone: sites.timeZone,
      clients: sql<number>`sum((${deviceStates.report} ->> 'clients')::int)::int`,
    })
    .from(deviceStates)
    .innerJoin(sites, eq(sites.id, deviceStates.siteId))
    .where(
      and(
        sql`${deviceStates.report} ->> 'clients' is not null`,
        gt(deviceStates.lastHeardAt, new Date(now.getTime() - FRESH_MS)),
      ),
    )
    .groupBy(deviceStates.siteId, sites.timeZone)
  if (rows.length === 0) return
  await db()
    .insert(clientHours)
    .values(
      rows.map(({ siteId, timeZone, clients }) => ({
        ...{ siteId, clients, samples: 1 },
        hour: Math.floor((weekMinuteAt(timeZone ?? 'UTC', now) % 1440) / 60),
      })),
    )
    .onConflictDoUpdate({
      target: [clientHours.siteId, clientHours.hour],
      set: {
        samples: sql`${clientHours.samples} + 1`,
        clients: sql`${clientHours.clients} + (excluded.clients - ${clientHours.clients})
          / least(${clientHours.samples} + 1, ${MOST_SAMPLES})`,
      },
    })
}

export const clientHoursOf = (siteId: string): Promise<ClientHour[]> =>
  db()
    .select({
      hour: clientHours.hour,
      clients: clientHours.clients,
      samples: clientHours.samples,
    })
    .from(clientHours)
    .where(eq(clientHours.siteId, siteId))
    .orderBy(asc(clientHours.hour))
