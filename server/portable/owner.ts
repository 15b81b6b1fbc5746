/** The owner of a site in its file: only with the secrets, for without its key it is nobody. */
import { eq } from 'drizzle-orm'
import { z } from 'zod'
import { certificateOf, derOf, keyOctets } from '@mast/protocol/zeroTouch'
import { keepMakers, keepVoucher, makersOf, voucherOf, vouchersOf } from '../bootstrap/fromMakers'
import { keepOwner, ownerOf } from '../bootstrap/owner'
import { isDatabaseAway } from '../db/away'
import type { Executor } from '../db/database'
import { makers } from '../db/schema'
import { Refused } from '../refusal'

const der = z.base64().max(100_000)
export const ownerSchema = z.strictObject({
  certificate: der,
  makers: z.array(der).max(1000),
  vouchers: z.array(der).max(100_000),
})
export type OwnerContent = z.infer<typeof ownerSchema>

/** Under which its key is among the secrets of the file. */
export const OWNER_KEY = 'owner-of-devices'
const base64 = (octets: Uint8Array): string => Buffer.from(octets).toString('base64')
const octets = (text: string): Uint8Array => new Uint8Array(Buffer.from(text, 'base64'))

/** Null of a site that has none. */
export async function ownerOut(
  at: Executor,
  siteId: string,
): Promise<{ content: OwnerContent; key: string } | null> {
  const owner = await ownerOf(at, siteId)
  if (!owner) return null
  const known = await at.select().from(makers).where(eq(makers.siteId, siteId))
  return {
    key: base64(await keyOctets(owner.key)),
    content: {
      certificate: base64(derOf(owner.certificate)),
      makers: known.map((m) => base64(m.certificate)),
      vouchers: (await vouchersOf(at, siteId)).map((v) => base64(v.voucher)),
    },
  }
}

/** What expired meanwhile stays behind. @throws Refused where it is not what was written */
export async function ownerIn(
  tx: Executor,
  siteId: string,
  content: OwnerContent,
  key: string,
): Promise<void> {
  try {
    const certificate = octets(content.certificate)
    await keepOwner(tx, siteId, derOf(certificateOf(certificate)), octets(key))
    await keepMakers(
      tx,
      siteId,
      content.makers.map((m) => derOf(certificateOf(octets(m)))),
    )
    const owner = await ownerOf(tx, siteId)
    const anchors = await makersOf(tx, siteId)
    for (const v of content.vouchers) {
      const read = await voucherOf(octets(v), owner!.certificate, anchors)
      if (typeof read !== 'string') await keepVoucher(tx, siteId, read)
    }
  } catch (error) {
    if (error instanceof Refused || isDatabaseAway(error)) throw error
    throw new Refused('not-possible', 'the owner of devices in this file cannot be read')
  }
}
