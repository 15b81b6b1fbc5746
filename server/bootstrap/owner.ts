/** By whose signature devices from their box take what a site gives them: made once, the key sealed. */
import { eq } from 'drizzle-orm'
import {
  certificateOf,
  certified,
  derOf,
  keyFrom,
  keyOctets,
  type Signer,
} from '@mast/protocol/zeroTouch'
import { inTransaction, type Executor } from '../db/database'
import { log, owners, type Site } from '../db/schema'
import { notify } from '../live/notices'
import { open, seal } from '../vault/vault'

/** Of who has no date at which it ends (RFC 5280 4.1.2.5): vouchers end, owners do not. */
const FOREVER = new Date('9999-12-31T23:59:59Z')
/** Devices whose clock stands some way back know it all the same. */
const BEFORE_MS = 86_400_000
const LONGEST_NAME = 64
const binding = (siteId: string): string => `owner/${siteId}`

/** Null before one was made. */
export async function ownerOf(at: Executor, siteId: string): Promise<Signer | null> {
  const [row] = await at.select().from(owners).where(eq(owners.siteId, siteId))
  if (!row) return null
  const key = Buffer.from(open(row.key, binding(siteId)), 'base64')
  return { certificate: certificateOf(row.certificate), key: await keyFrom(key) }
}

/** Makes the owner of a site; one that is there already stays who it is. */
export const firstOwner = (
  site: Pick<Site, 'id' | 'name' | 'createdAt'>,
  accountId: string,
): Promise<void> =>
  inTransaction(async (tx) => {
    if (await ownerOf(tx, site.id)) return
    await make(tx, site)
    await tx.insert(log).values({
      siteId: site.id,
      accountId,
      what: 'Made the owner that makers vouch for',
    })
    await notify(tx, { site: site.id, topic: 'devices' })
  })

async function make(at: Executor, site: Pick<Site, 'id' | 'name' | 'createdAt'>): Promise<void> {
  const owner = await certified({
    name: `Owner of ${site.name}`.slice(0, LONGEST_NAME),
    from: new Date(site.createdAt.getTime() - BEFORE_MS),
    until: FOREVER,
    isAuthority: true,
  })
  await keepOwner(at, site.id, derOf(owner.certificate), await keyOctets(owner.key))
}

export async function keepOwner(
  at: Executor,
  siteId: string,
  certificate: Uint8Array,
  key: Uint8Array,
): Promise<void> {
  await at
    .insert(owners)
    .values({
      siteId,
      certificate: Buffer.from(certificate),
      key: seal(Buffer.from(key).toString('base64'), binding(siteId)),
    })
    .onConflictDoNothing()
}
