/**
 * The release that the devices of a site have: what a proof is of, what drift is measured against,
 * what the stand-ins stand on.
 */
import { and, desc, eq, gt, or } from 'drizzle-orm'
import type { SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { filesToGive } from '@mast/core/tunnels'
import { db, type Executor } from '../db/database'
import { releases } from '../db/schema'
import { open, seal } from '../vault/vault'

export interface Keys {
  readonly keys: Readonly<Record<string, string>>
  readonly linePasswords: Readonly<Record<string, string>>
  /** Of the pages for guests; releases of an earlier version do not say it. */
  readonly pagePasswords?: Readonly<Record<string, string>>
  /**
   * Files of peers of tunnels and of hosts on which one ends, without their private keys: those are
   * handed out once and kept nowhere else. Releases of an earlier version have none.
   */
  readonly tunnelFiles?: Readonly<Record<string, string>>
}

/** Of the secrets of a site those that people type and providers issued, by what they are for. */
export function keysOf(plan: SitePlan, secrets: Readonly<Record<string, string>>): Keys {
  const shared = Object.values(plan.peers).flatMap(({ sharedKeyRef: ref }) =>
    ref && secrets[ref] ? [[ref, secrets[ref]]] : [],
  )
  return {
    tunnelFiles: filesToGive(siteModel(plan), Object.fromEntries(shared)),
    keys: Object.fromEntries(
      Object.values(plan.wirelessNetworks).flatMap((w) =>
        w.keyRef && secrets[w.keyRef] ? [[w.id, secrets[w.keyRef]!]] : [],
      ),
    ),
    pagePasswords: Object.fromEntries(
      Object.values(plan.wirelessNetworks).flatMap((w) => {
        const secret = w.portal?.passwordRef ? secrets[w.portal.passwordRef] : undefined
        return secret ? [[w.id, secret]] : []
      }),
    ),
    linePasswords: Object.fromEntries(
      Object.values(plan.uplinks).flatMap((u) => {
        const secret = u.handOff.passwordRef ? secrets[u.handOff.passwordRef] : undefined
        return secret ? [[u.id, secret]] : []
      }),
    ),
  }
}

const binding = (siteId: string, number: number): string => `release/${siteId}/${number}`
export const sealKeys = (siteId: string, number: number, keys: Keys): Buffer =>
  seal(JSON.stringify(keys), binding(siteId, number))

/**
 * The newest of which anything was kept; one that was stopped in its first wave left everything as
 * it was.
 */
export async function standingRelease(
  at: Executor,
  siteId: string,
): Promise<{ number: number; revision: number; keys: Keys } | null> {
  const [row] = await at
    .select()
    .from(releases)
    .where(
      and(
        eq(releases.siteId, siteId),
        or(eq(releases.state, 'done'), and(eq(releases.state, 'stopped'), gt(releases.wave, 1))),
      ),
    )
    .orderBy(desc(releases.number))
    .limit(1)
  return row
    ? {
        number: row.number,
        revision: row.revision,
        keys: JSON.parse(open(row.keys, binding(siteId, row.number))) as Keys,
      }
    : null
}

export async function latestRelease(
  siteId: string,
): Promise<typeof releases.$inferSelect | undefined> {
  const [row] = await db()
    .select()
    .from(releases)
    .where(eq(releases.siteId, siteId))
    .orderBy(desc(releases.number))
    .limit(1)
  return row
}
