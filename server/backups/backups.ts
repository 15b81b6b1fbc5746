/** Backups that the controller makes by itself: of what each device runs, kept sealed with its digest. */
import { and, desc, eq, sql } from 'drizzle-orm'
import type { Backup } from '@mast/api'
import { db } from '../db/database'
import { backups, log } from '../db/schema'
import { Refused } from '../refusal'
import { documentOf } from '../releases/documents'

/** Of each device. */
const KEPT = 12
const MOST = 5000

/**
 * Of every device that is in charge and was heard just now: what it runs, where that is something
 * else than its last backup, or that is old.
 */
export async function sweepBackups(): Promise<void> {
  const { rowCount } = await db().execute(sql`
    insert into backups (site_id, device_id, digest, firmware)
    select d.site_id, d.device_id, d.configuration_digest, d.firmware
    from device_states d join sites s on s.id = d.site_id
      join documents k on k.site_id = d.site_id and k.digest = d.configuration_digest
    where s.backup_every_days is not null and d.state in ('in-service', 'drifted')
      and d.last_heard_at > now() - interval '10 minutes'
      and not exists (select 1 from backups b where b.site_id = d.site_id
        and b.device_id = d.device_id and b.digest = d.configuration_digest
        and b.at > now() - s.backup_every_days * interval '1 day'
        and not exists (select 1 from backups n where n.site_id = b.site_id
          and n.device_id = b.device_id and n.at > b.at))
    on conflict do nothing`)
  if (rowCount)
    await db().execute(sql`
      delete from backups b where b.at < (select n.at from backups n where n.site_id = b.site_id
        and n.device_id = b.device_id order by n.at desc offset ${KEPT - 1} limit 1)`)
}

export async function backupsOf(siteId: string): Promise<Backup[]> {
  const rows = await db()
    .select({
      deviceId: backups.deviceId,
      at: backups.at,
      digest: backups.digest,
      firmware: backups.firmware,
    })
    .from(backups)
    .where(eq(backups.siteId, siteId))
    .orderBy(desc(backups.at))
    .limit(MOST)
  return rows.map((r) => ({ ...r, at: r.at.toISOString() }))
}

/** @throws Refused where there is none */
export async function backupFor(
  siteId: string,
  deviceId: string,
  digest: string,
  accountId: string,
): Promise<unknown> {
  const [row] = await db()
    .select({ at: backups.at })
    .from(backups)
    .where(
      and(eq(backups.siteId, siteId), eq(backups.deviceId, deviceId), eq(backups.digest, digest)),
    )
    .limit(1)
  const document = row && (await documentOf(siteId, digest))
  if (!document) throw new Refused('not-there', 'there is no such backup')
  await db()
    .insert(log)
    .values({ siteId, accountId, what: `Looked at a backup of ${deviceId}, with its keys` })
  return document
}
