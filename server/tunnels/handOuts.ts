/** Files of peers, for one opening: sealed until then, gone after it. */
import { randomBytes } from 'node:crypto'
import { and, desc, eq, gt, isNull, lt } from 'drizzle-orm'
import { own } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { peerFile, reckonTunnel, writeTunnelFile } from '@mast/core/tunnels'
import { digestToken } from '../accounts/sessions'
import { countLook } from '../accounts/tries'
import { db, inTransaction } from '../db/database'
import { accounts, handOuts, log, secrets, type Site } from '../db/schema'
import { Refused } from '../refusal'
import { planAt } from '../sites/plans'
import { open, readSecrets, seal } from '../vault/vault'

const MOST_OPEN = 500
/** Of what was handed out, that is shown. */
const MOST_SHOWN = 500
const tokenPattern = /^[\w-]{43}$/
const binding = (siteId: string, peerId: string): string => `hand-out/${siteId}/${peerId}`

export async function handedOut(siteId: string) {
  const rows = await db()
    .select({
      id: handOuts.id,
      peerId: handOuts.peerId,
      by: accounts.name,
      madeAt: handOuts.createdAt,
      expiresAt: handOuts.expiresAt,
      openedAt: handOuts.openedAt,
    })
    .from(handOuts)
    .innerJoin(accounts, eq(accounts.id, handOuts.madeBy))
    .where(eq(handOuts.siteId, siteId))
    .orderBy(desc(handOuts.createdAt))
    .limit(MOST_SHOWN)
  return rows.map((r) => ({
    ...r,
    madeAt: r.madeAt.toISOString(),
    expiresAt: r.expiresAt.toISOString(),
    openedAt: r.openedAt?.toISOString() ?? null,
  }))
}

/** @throws Refused where something is missing for the file, or too many wait to be opened. */
export async function handOut(
  site: Site,
  peerId: string,
  hours: number,
  accountId: string,
): Promise<{ token: string; expiresAt: string }> {
  const plan = await planAt(db(), site.id, site.head)
  const peer = own(plan.peers, peerId)
  const tunnel = peer && own(plan.tunnels, peer.tunnelId)
  if (!peer || !tunnel) throw new Refused('not-there', 'there is no such peer in the plan')
  const reckoned = reckonTunnel(siteModel(plan), tunnel)
  const token = randomBytes(32).toString('base64url')
  const expiresAt = new Date(Date.now() + hours * 3_600_000)
  await inTransaction(async (tx) => {
    const { file, missing } = peerFile(
      reckoned,
      reckoned.peers.find((p) => p.peer.id === peerId)!,
      await readSecrets(tx, site.id),
    )
    if (missing.length > 0)
      throw new Refused(
        'not-possible',
        `missing is ${missing.join('; ')}. A key that was handed out once is not here any more: make a new one.`,
      )
    await tx
      .delete(handOuts)
      .where(
        and(
          eq(handOuts.siteId, site.id),
          isNull(handOuts.openedAt),
          lt(handOuts.expiresAt, new Date()),
        ),
      )
    const waiting = await tx
      .select({ id: handOuts.id })
      .from(handOuts)
      .where(and(eq(handOuts.siteId, site.id), isNull(handOuts.openedAt)))
      .limit(MOST_OPEN)
    if (waiting.length >= MOST_OPEN)
      throw new Refused('not-possible', `${MOST_OPEN} files wait to be opened; that is enough`)
    await tx.insert(handOuts).values({
      siteId: site.id,
      peerId,
      name: file.name,
      madeBy: accountId,
      tokenHash: digestToken(token),
      expiresAt,
      sealed: seal(writeTunnelFile(file), binding(site.id, peerId)),
    })
    // From here on it is in the file alone.
    if (peer.privateKeyRef)
      await tx
        .delete(secrets)
        .where(and(eq(secrets.siteId, site.id), eq(secrets.ref, peer.privateKeyRef)))
    await tx
      .insert(log)
      .values({ siteId: site.id, accountId, what: `Made the file of ${peer.name} for one opening` })
  })
  return { token, expiresAt: expiresAt.toISOString() }
}

const usedUp = (): Refused =>
  new Refused('not-there', 'this link was opened, is too old, or never was; ask for a new file')

const isOpen = (token: string) =>
  and(
    eq(handOuts.tokenHash, digestToken(token)),
    isNull(handOuts.openedAt),
    gt(handOuts.expiresAt, new Date()),
  )

export async function lookAtHandOut(
  token: string,
  address: string,
): Promise<{ name: string; expiresAt: string }> {
  const [row] = tokenPattern.test(token)
    ? await db()
        .select({ name: handOuts.name, expiresAt: handOuts.expiresAt })
        .from(handOuts)
        .where(isOpen(token))
    : []
  if (row) return { name: row.name, expiresAt: row.expiresAt.toISOString() }
  await countLook(address)
  throw usedUp()
}

/** Of two who open it at once one gets it. */
export async function openOnce(
  token: string,
  address: string,
): Promise<{ name: string; text: string }> {
  const opened = tokenPattern.test(token)
    ? await inTransaction(async (tx) => {
        const [row] = await tx
          .select()
          .from(handOuts)
          .where(isOpen(token))
          .for('update', { skipLocked: true })
        if (!row?.sealed) return null
        await tx
          .update(handOuts)
          .set({ openedAt: new Date(), sealed: null })
          .where(eq(handOuts.id, row.id))
        await tx.insert(log).values({
          siteId: row.siteId,
          accountId: row.madeBy,
          what: `The file of ${row.name} was opened by its link`,
        })
        return { name: row.name, text: open(row.sealed, binding(row.siteId, row.peerId)) }
      })
    : null
  if (opened) return opened
  await countLook(address)
  throw usedUp()
}
