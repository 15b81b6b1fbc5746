/**
 * What other sites have in common with one: networks that overlap, serials and hardware addresses
 * that stand twice. Of sites that the asker belongs to.
 */
import type { Overlap, Twin } from '@mast/api'
import { and, eq, ne, or, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/pg-core'
import { db } from '../db/database'
import { inventory, members, prefixes, sites } from '../db/schema'

const MOST = 200

/** Overlaps of what the site places itself with whatever others place, know or are handed. */
export async function overlapsElsewhere(siteId: string, accountId: string): Promise<Overlap[]> {
  const own = alias(prefixes, 'own')
  return db()
    .select({
      own: own.name,
      ownPrefix: sql<string>`${own.network}::text`,
      siteId: sites.id,
      siteName: sites.name,
      what: prefixes.name,
      prefix: sql<string>`${prefixes.network}::text`,
    })
    .from(own)
    .innerJoin(
      prefixes,
      and(
        sql`${prefixes.network} && ${own.network}`,
        ne(prefixes.siteId, own.siteId),
        eq(prefixes.kind, 'segment'),
      ),
    )
    .innerJoin(sites, eq(sites.id, prefixes.siteId))
    .innerJoin(members, and(eq(members.siteId, sites.id), eq(members.accountId, accountId)))
    .where(and(eq(own.siteId, siteId), eq(own.kind, 'segment')))
    .orderBy(own.network, sites.name, prefixes.network)
    .limit(MOST)
}

export async function twinsElsewhere(siteId: string, accountId: string): Promise<Twin[]> {
  const own = alias(inventory, 'own')
  const rows = await db()
    .select({
      deviceName: own.name,
      serial: own.serial,
      hardwareAddress: own.hardwareAddress,
      siteId: sites.id,
      siteName: sites.name,
      otherName: inventory.name,
      otherSerial: inventory.serial,
    })
    .from(own)
    .innerJoin(
      inventory,
      and(
        ne(inventory.siteId, own.siteId),
        or(eq(inventory.serial, own.serial), eq(inventory.hardwareAddress, own.hardwareAddress)),
      ),
    )
    .innerJoin(sites, eq(sites.id, inventory.siteId))
    .innerJoin(members, and(eq(members.siteId, sites.id), eq(members.accountId, accountId)))
    .where(eq(own.siteId, siteId))
    .orderBy(own.name)
    .limit(MOST)
  return rows.map(({ serial, otherSerial, hardwareAddress, ...r }) =>
    serial !== null && serial === otherSerial
      ? { ...r, field: 'serial' as const, value: serial }
      : { ...r, field: 'hardware address' as const, value: hardwareAddress! },
  )
}
