/** Secrets as people see and set them; the log keeps that they did, not what they saw. */
import { eq } from 'drizzle-orm'
import { db, inTransaction } from '../db/database'
import { log, secrets } from '../db/schema'
import { notify } from '../live/notices'
import { Refused } from '../refusal'
import { isSealedRef } from './sealedRef'
import { inventSecret, readSecret, writeSecret } from './vault'

const MOST_SECRETS = 1000

/** Keys of tunnels go into devices and into one hand-out, and are shown to nobody. */
function mustBeOpen(ref: string): void {
  if (isSealedRef(ref))
    throw new Refused('not-possible', 'keys of tunnels are not shown and not typed: make a new one')
}

export const secretNames = (siteId: string) =>
  db()
    .select({ ref: secrets.ref, changedAt: secrets.changedAt })
    .from(secrets)
    .where(eq(secrets.siteId, siteId))

/** @throws Refused where there is none of that name. */
export const showSecret = (siteId: string, ref: string, accountId: string): Promise<string> =>
  inTransaction(async (tx) => {
    mustBeOpen(ref)
    const secret = await readSecret(tx, siteId, ref)
    if (secret === undefined) throw new Refused('not-there', 'there is no such secret')
    await tx.insert(log).values({ siteId, accountId, what: `Looked at the secret ${ref}` })
    return secret
  })

/** @param secret null for one that is made up */
export const replaceSecret = (
  siteId: string,
  ref: string,
  secret: string | null,
  accountId: string,
): Promise<void> =>
  inTransaction(async (tx) => {
    mustBeOpen(ref)
    const refs = (
      await tx.select({ ref: secrets.ref }).from(secrets).where(eq(secrets.siteId, siteId))
    ).map((s) => s.ref)
    if (refs.length >= MOST_SECRETS && !refs.includes(ref))
      throw new Refused(
        'not-possible',
        `this site keeps ${refs.length} secrets and the most are ${MOST_SECRETS}`,
      )
    await writeSecret(tx, siteId, ref, secret ?? inventSecret())
    await tx.insert(log).values({ siteId, accountId, what: `Set the secret ${ref}` })
    await notify(tx, { site: siteId, topic: 'devices' })
  })
