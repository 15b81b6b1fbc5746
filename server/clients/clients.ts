/** Who is on the air of a site, how much each moved, and what is said of one. */
import { and, asc, eq, sql } from 'drizzle-orm'
import type { ChangeClient, ClientOnAir, ClientSpan } from '@mast/api'
import { db } from '../db/database'
import { clients, clientTraffic } from '../db/schema'

const MOST = 2000

/** Those that were heard last come first. `day` is today by the clocks of the site. */
export async function clientsOf(siteId: string, timeZone: string): Promise<ClientOnAir[]> {
  const { rows } = await db().execute<ClientOnAir>(sql`
    select c.hardware_address::text as "hardwareAddress", c.name, c.is_shut as "isShut",
      c.limit_kbps as "limitKbps", c.device_id as "deviceId", c.network, host(c.address) as address,
      c.signal_dbm as "signalDbm",
      to_char(c.joined_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as "joinedAt",
      to_char(c.seen_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as "seenAt",
      json_build_object('downOctets', coalesce(t.hour_down, 0), 'upOctets', coalesce(t.hour_up, 0),
        'seconds', coalesce(extract(epoch from now() - case
          when c.joined_at between t.first and t.first + interval '5 minutes' then c.joined_at
          else t.first end), 0)) as hour,
      json_build_object('downOctets', coalesce(t.day_down, 0), 'upOctets', coalesce(t.day_up, 0))
        as day
    from clients c left join lateral (
      select min(at) filter (where at > now() - interval '1 hour') as first,
        sum(down_octets) filter (where at > now() - interval '1 hour')::bigint as hour_down,
        sum(up_octets) filter (where at > now() - interval '1 hour')::bigint as hour_up,
        sum(down_octets) filter (where at >= date_trunc('day', now(), ${timeZone}))::bigint as day_down,
        sum(up_octets) filter (where at >= date_trunc('day', now(), ${timeZone}))::bigint as day_up
      from client_traffic t where t.site_id = c.site_id and t.hardware_address = c.hardware_address
    ) t on true
    where c.site_id = ${siteId}
    order by c.seen_at desc nulls last, c.hardware_address limit ${MOST}`)
  return rows
}

export async function spansOf(siteId: string, hardwareAddress: string): Promise<ClientSpan[]> {
  const rows = await db()
    .select({
      at: clientTraffic.at,
      downOctets: clientTraffic.downOctets,
      upOctets: clientTraffic.upOctets,
    })
    .from(clientTraffic)
    .where(
      and(
        eq(clientTraffic.siteId, siteId),
        eq(clientTraffic.hardwareAddress, hardwareAddress),
        sql`${clientTraffic.at} > now() - interval '25 hours'`,
      ),
    )
    .orderBy(asc(clientTraffic.at))
  return rows.map((r) => ({ ...r, at: r.at.toISOString() }))
}

/** Of one that was never heard too: it is kept out before it comes. */
export async function changeClient(
  siteId: string,
  hardwareAddress: string,
  changes: ChangeClient,
): Promise<void> {
  await db()
    .insert(clients)
    .values({ siteId, hardwareAddress, ...changes })
    .onConflictDoUpdate({
      target: [clients.siteId, clients.hardwareAddress],
      set: { ...changes, siteId },
    })
}
