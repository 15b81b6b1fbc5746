/** What access points report of those who have joined them, kept and added up. */
import { sql } from 'drizzle-orm'
import type { Report, ReportReply } from '@mast/protocol'
import { db } from '../db/database'

/** One after another chart shows, min. */
export const SPAN_MINUTES = 5
/** Of one that was not heard before, what moved longer ago belongs to no span that is kept, s. */
const COUNTED_SECONDS = 3600

/**
 * Counters count from when a client joined: what is new is the difference to the last report of the
 * same access point, or all of it where it joined since.
 */
export async function keepStations(
  siteId: string,
  deviceId: string,
  stations: NonNullable<Report['stations']>,
): Promise<void> {
  if (stations.length === 0) return
  await db().execute(sql`
    with given as (
      select distinct on (mac) * from (
        select g."hardwareAddress"::macaddr as mac, g.network, g.address::inet as address,
          g."signalDbm" as signal, g."sinceSeconds" as since, g."downOctets" as down, g."upOctets" as up
        from jsonb_to_recordset(${JSON.stringify(stations)}::jsonb) as g("hardwareAddress" text,
          network text, address text, "signalDbm" int, "sinceSeconds" float, "downOctets" bigint,
          "upOctets" bigint)) each_ order by mac
    ),
    moved as (
      select g.mac,
        case when c.device_id = ${deviceId} and g.down >= c.down_octets and g.up >= c.up_octets
          then g.down - c.down_octets
          when c.seen_at is null and g.since > ${COUNTED_SECONDS} then 0 else g.down end as down,
        case when c.device_id = ${deviceId} and g.down >= c.down_octets and g.up >= c.up_octets
          then g.up - c.up_octets
          when c.seen_at is null and g.since > ${COUNTED_SECONDS} then 0 else g.up end as up
      from given g left join clients c on c.site_id = ${siteId} and c.hardware_address = g.mac
    ),
    kept as (
      insert into clients (site_id, hardware_address, device_id, network, address, signal_dbm,
        joined_at, seen_at, down_octets, up_octets)
      select ${siteId}, mac, ${deviceId}, network, address, signal,
        now() - since / s.clock_speed * interval '1 second', now(), down, up
      from given, sites s where s.id = ${siteId}
      on conflict (site_id, hardware_address) do update set device_id = excluded.device_id,
        network = excluded.network, address = coalesce(excluded.address, clients.address),
        signal_dbm = excluded.signal_dbm, joined_at = excluded.joined_at, seen_at = excluded.seen_at,
        down_octets = excluded.down_octets, up_octets = excluded.up_octets
    )
    insert into client_traffic (site_id, hardware_address, at, down_octets, up_octets)
    select ${siteId}, mac, date_bin(${`${SPAN_MINUTES} minutes`}::interval, now(), 'epoch'), down, up
    from moved where down > 0 or up > 0
    on conflict (site_id, hardware_address, at) do update set
      down_octets = client_traffic.down_octets + excluded.down_octets,
      up_octets = client_traffic.up_octets + excluded.up_octets`)
}

/** What access points of a site are told of clients. */
export async function rulesFor(siteId: string): Promise<NonNullable<ReportReply['clientRules']>> {
  const { rows } = await db().execute<NonNullable<ReportReply['clientRules']>[number]>(sql`
    select hardware_address::text as "hardwareAddress", is_shut as "isShut",
      limit_kbps as "limitKbps"
    from clients where site_id = ${siteId} and (is_shut or limit_kbps is not null)
    order by hardware_address limit 1000`)
  return rows
}

/** Spans that no chart shows any more, and clients that nobody named and that did not come again. */
export async function dropOld(): Promise<void> {
  await db().execute(sql`delete from client_traffic where at < now() - interval '26 hours'`)
  await db().execute(sql`
    delete from clients where seen_at < now() - interval '30 days' and name is null and not is_shut
      and limit_kbps is null`)
}
