/** Sites of one person joined by tunnels: keys made and sealed at each, then each plan gets its end. */
import { randomBytes, randomUUID } from 'node:crypto'
import { isAtLeast } from '@mast/core/roles'
import {
  joinSites,
  KEY_OCTETS,
  privateKeyFrom,
  publicKeyOf,
  type JoinedSite,
  type KeyMaker,
} from '@mast/core/tunnels'
import { db, inTransaction } from '../db/database'
import { log, type Site } from '../db/schema'
import { membership } from '../members/members'
import { Refused } from '../refusal'
import { planAt } from '../sites/plans'
import { save } from '../sites/revisions'
import { sealedRef } from '../vault/sealedRef'
import { writeSecret } from '../vault/vault'

const octets = (): Uint8Array => new Uint8Array(randomBytes(KEY_OCTETS))

async function sitesOf(first: Site, others: readonly string[], accountId: string): Promise<Site[]> {
  const found = [first]
  for (const id of new Set(others)) {
    const at = await membership(id, accountId)
    if (!at) throw new Refused('not-there', 'one of these sites is not there, or not yours')
    if (!isAtLeast(at.role, 'engineer'))
      throw new Refused('not-allowed', `your role at ${at.site.name} does not change its plan`)
    if (at.site.id !== first.id) found.push(at.site)
  }
  return found
}

/** @throws Refused with all that stands in the way */
export async function joinSitesOf(
  first: Site,
  others: readonly string[],
  shape: 'hub' | 'all',
  accountId: string,
): Promise<{ joined: { siteId: string; name: string; revision: number }[] }> {
  const found = await sitesOf(first, others, accountId)
  if (found.length < 2) throw new Refused('not-possible', 'a site is not joined with itself')
  const sites: JoinedSite[] = []
  for (const s of found)
    sites.push({ id: s.id, name: s.name, plan: await planAt(db(), s.id, s.head) })

  const kept: { siteId: string; ref: string; plain: string }[] = []
  const keep = (siteId: string, ref: string, plain: string): string => {
    kept.push({ siteId, ref, plain })
    return ref
  }
  const keys: KeyMaker = {
    own(siteId, tunnelId) {
      const key = privateKeyFrom(octets())
      return {
        publicKey: publicKeyOf(key)!,
        privateKeyRef: keep(siteId, sealedRef('tunnel', tunnelId), key),
      }
    },
    shared(a, b) {
      const key = Buffer.from(octets()).toString('base64')
      return [
        keep(a.siteId, sealedRef('shared', a.peerId), key),
        keep(b.siteId, sealedRef('shared', b.peerId), key),
      ]
    },
  }
  const { edits, problems } = joinSites(sites, shape, keys)
  if (problems.length > 0)
    throw new Refused('not-possible', problems.join('; '), {
      problems: problems.map((reason) => ({ path: [], reason })),
    })
  const summary = `Join ${sites.map((s) => s.name).join(', ')} by tunnels`.slice(0, 200)
  await inTransaction(async (tx) => {
    for (const { siteId, ref, plain } of kept) await writeSecret(tx, siteId, ref, plain)
    for (const { id } of sites)
      await tx.insert(log).values({ siteId: id, accountId, what: summary })
  })
  const joined: { siteId: string; name: string; revision: number }[] = []
  for (const [n, { id, name }] of sites.entries()) {
    const change = { id: randomUUID(), kind: 'edits' as const, summary, edits: [...edits.get(id)!] }
    const { revision } = await save(id, { base: found[n]!.head, changes: [change] }, accountId)
    joined.push({ siteId: id, name, revision })
  }
  return { joined }
}
