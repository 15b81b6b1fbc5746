/** Key pairs of tunnels: made here, the private half sealed, the public one given back. */
import { randomBytes } from 'node:crypto'
import { own } from '@mast/core/plan'
import { KEY_OCTETS, privateKeyFrom, publicKeyOf } from '@mast/core/tunnels'
import { db, inTransaction } from '../db/database'
import { log, type Site } from '../db/schema'
import { Refused } from '../refusal'
import { planAt } from '../sites/plans'
import { sealedRef } from '../vault/sealedRef'
import { writeSecret } from '../vault/vault'

export async function makeKey(
  site: Site,
  of: 'tunnel' | 'peer',
  id: string,
  accountId: string,
): Promise<{ publicKey: string; privateKeyRef: string }> {
  const plan = await planAt(db(), site.id, site.head)
  const it = of === 'tunnel' ? own(plan.tunnels, id) : own(plan.peers, id)
  if (!it) throw new Refused('not-there', 'there is no such end of a tunnel in the plan')
  const privateKeyRef = sealedRef(of, id)
  const key = privateKeyFrom(new Uint8Array(randomBytes(KEY_OCTETS)))
  await inTransaction(async (tx) => {
    await writeSecret(tx, site.id, privateKeyRef, key)
    await tx.insert(log).values({ siteId: site.id, accountId, what: `Made a key for ${it.name}` })
  })
  return { publicKey: publicKeyOf(key)!, privateKeyRef }
}
