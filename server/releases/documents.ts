/**
 * Documents of releases, sealed: they hold keys of networks and passwords of lines. Each is bound
 * to its site and digest.
 */
import { and, eq, inArray, sql } from 'drizzle-orm'
import type { ReleasedDocument } from '@mast/core/release'
import { configurationSchema, type Configuration } from '@mast/protocol'
import { db, type Executor } from '../db/database'
import { documents } from '../db/schema'
import { open, seal } from '../vault/vault'

const IN_ONE = 500
const binding = (siteId: string, digest: string): string => `document/${siteId}/${digest}`

export async function keepDocuments(
  at: Executor,
  siteId: string,
  list: readonly Pick<ReleasedDocument, 'digest' | 'configuration'>[],
): Promise<void> {
  const rows = [...new Map(list.map((d) => [d.digest, d])).values()]
  for (let i = 0; i < rows.length; i += IN_ONE)
    await at
      .insert(documents)
      .values(
        rows.slice(i, i + IN_ONE).map((d) => ({
          siteId,
          digest: d.digest,
          sealed: seal(JSON.stringify(d.configuration), binding(siteId, d.digest)),
        })),
      )
      .onConflictDoNothing()
}

export async function documentOf(
  siteId: string,
  digest: string,
): Promise<Configuration | undefined> {
  const [row] = await db()
    .select()
    .from(documents)
    .where(and(eq(documents.siteId, siteId), eq(documents.digest, digest)))
  return row && read(siteId, row)
}

export async function documentsOf(
  at: Executor,
  siteId: string,
  digests: readonly string[],
): Promise<Map<string, Configuration>> {
  const wanted = [...new Set(digests)]
  const out = new Map<string, Configuration>()
  for (let i = 0; i < wanted.length; i += IN_ONE)
    for (const row of await at
      .select()
      .from(documents)
      .where(
        and(eq(documents.siteId, siteId), inArray(documents.digest, wanted.slice(i, i + IN_ONE))),
      ))
      out.set(row.digest, read(siteId, row))
  return out
}

const read = (siteId: string, row: typeof documents.$inferSelect): Configuration =>
  configurationSchema.parse(JSON.parse(open(row.sealed, binding(siteId, row.digest))))

/** What no device is told or runs any more, and no backup is of, goes. */
export const forgetDocuments = async (at: Executor, siteId: string): Promise<void> => {
  await at.execute(sql`delete from documents d where d.site_id = ${siteId} and not exists (select 1 from
    targets t where t.site_id = d.site_id and (t.digest = d.digest or t.before ->> 'digest' = d.digest))
    and not exists (select 1 from backups b where b.site_id = d.site_id and b.digest = d.digest)
    and not exists (select 1 from device_states s where s.site_id = d.site_id and s.configuration_digest = d.digest)`)
}
