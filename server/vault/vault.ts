/**
 * Secrets of a site, sealed with AES-256-GCM. The site and the name of a secret are bound in, so
 * that a sealed text cannot be moved.
 */
import { createCipheriv, createDecipheriv, randomBytes, randomInt } from 'node:crypto'
import { and, eq, sql } from 'drizzle-orm'
import type { Executor } from '../db/database'
import { secrets, sites } from '../db/schema'

const NONCE_BYTES = 12
const TAG_BYTES = 16

function key(): Buffer {
  const text = process.env.MAST_VAULT_KEY
  const bytes = text ? Buffer.from(text, 'base64') : undefined
  if (bytes?.length !== 32)
    throw new Error('MAST_VAULT_KEY is not set to 32 octets in base64; start Able Mast with ./mast')
  return bytes
}

export function seal(plain: string, boundTo: string): Buffer {
  const nonce = randomBytes(NONCE_BYTES)
  const cipher = createCipheriv('aes-256-gcm', key(), nonce).setAAD(Buffer.from(boundTo))
  const body = Buffer.concat([cipher.update(plain, 'utf8'), cipher.final()])
  return Buffer.concat([nonce, cipher.getAuthTag(), body])
}

/** @throws Error where the text was changed, moved, or sealed with another key. */
export function open(sealed: Buffer, boundTo: string): string {
  const decipher = createDecipheriv('aes-256-gcm', key(), sealed.subarray(0, NONCE_BYTES)).setAAD(
    Buffer.from(boundTo),
  )
  decipher.setAuthTag(sealed.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES))
  return Buffer.concat([
    decipher.update(sealed.subarray(NONCE_BYTES + TAG_BYTES)),
    decipher.final(),
  ]).toString('utf8')
}

const binding = (siteId: string, ref: string): string => `${siteId}/${ref}`

export async function writeSecret(
  at: Executor,
  siteId: string,
  ref: string,
  plain: string,
): Promise<void> {
  const sealed = seal(plain, binding(siteId, ref))
  await at
    .insert(secrets)
    .values({ siteId, ref, sealed })
    .onConflictDoUpdate({
      target: [secrets.siteId, secrets.ref],
      set: { sealed, changedAt: new Date() },
    })
  await at
    .update(sites)
    .set({ secretsVersion: sql`${sites.secretsVersion} + 1` })
    .where(eq(sites.id, siteId))
}

export async function readSecret(
  at: Executor,
  siteId: string,
  ref: string,
): Promise<string | undefined> {
  const [row] = await at
    .select()
    .from(secrets)
    .where(and(eq(secrets.siteId, siteId), eq(secrets.ref, ref)))
  return row && open(row.sealed, binding(siteId, ref))
}

export async function readSecrets(at: Executor, siteId: string): Promise<Record<string, string>> {
  const rows = await at.select().from(secrets).where(eq(secrets.siteId, siteId))
  // Names of keys come from plans: asked for one that is not there, this has none of its own
  // either.
  return Object.assign(
    Object.create(null) as Record<string, string>,
    Object.fromEntries(rows.map((r) => [r.ref, open(r.sealed, binding(siteId, r.ref))])),
  )
}

/** Letters and digits that cannot be taken for one another when read aloud or off paper. */
const CLEAR = 'abcdefghjkmnpqrstuvwxyz23456789'

/** Four groups of four: 79 bits, typed without looking twice. */
export const inventSecret = (): string =>
  Array.from({ length: 4 }, () =>
    Array.from({ length: 4 }, () => CLEAR[randomInt(CLEAR.length)]).join(''),
  ).join('-')
