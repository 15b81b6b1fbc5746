/** What makers give to an owner: their certificates, and vouchers that say whose a device is. */
import { createHash } from 'node:crypto'
import { and, asc, eq } from 'drizzle-orm'
import {
  certificateOf,
  certificatesIn,
  CONTENT,
  derOf,
  isSignedBy,
  readCms,
  subjectOf,
  voucherSchema,
  type Certificate,
} from '@mast/protocol/zeroTouch'
import { db, inTransaction, type Executor } from '../db/database'
import { log, makers, vouchers } from '../db/schema'
import { notify } from '../live/notices'
import { Refused } from '../refusal'
import { ownerOf } from './owner'

const MOST_MAKERS = 100
const MOST_VOUCHERS = 20_000

export interface MakersFile {
  readonly name: string
  readonly content: Uint8Array
}
interface Voucher {
  readonly serial: string
  readonly createdAt: Date
  readonly expiresAt: Date | null
  readonly der: Uint8Array
}

export const digestOfDer = (der: Uint8Array): string =>
  createHash('sha256').update(der).digest('hex')

export async function makersOf(at: Executor, siteId: string): Promise<Certificate[]> {
  const rows = await at.select().from(makers).where(eq(makers.siteId, siteId))
  return rows.map((r) => certificateOf(r.certificate))
}
export const vouchersOf = (at: Executor, siteId: string) =>
  at.select().from(vouchers).where(eq(vouchers.siteId, siteId)).orderBy(asc(vouchers.serial))

/**
 * Takes in what it can and says by file why not of the others. Certificates go first, so that
 * vouchers of a maker can come with its own.
 */
export async function takeIn(
  siteId: string,
  files: readonly MakersFile[],
  accountId: string,
): Promise<{ taken: number; refused: { name: string; why: string }[] }> {
  const refused: { name: string; why: string }[] = []
  const certificates: Certificate[] = []
  const others: MakersFile[] = []
  for (const f of files)
    try {
      const found = certificatesOf(f.content)
      if (found.length > 0) certificates.push(...found)
      else others.push(f)
    } catch (error) {
      if (!(error instanceof RangeError)) throw error
      refused.push({ name: f.name, why: error.message })
    }
  return inTransaction(async (tx) => {
    const owner = await ownerOf(tx, siteId)
    if (!owner) throw new Refused('out-of-turn', 'make the owner of this site first')
    const known = await makersOf(tx, siteId)
    const all = [...known, ...certificates]
    if (new Set(all.map((c) => digestOfDer(derOf(c)))).size > MOST_MAKERS)
      throw new Refused('not-possible', `a site knows ${MOST_MAKERS} makers at the most`)
    await keepMakers(tx, siteId, certificates.map(derOf))
    let taken = certificates.length
    const had = new Set((await vouchersOf(tx, siteId)).map((v) => v.serial))
    for (const f of others) {
      const read = await voucherOf(f.content, owner.certificate, all)
      if (typeof read === 'string') refused.push({ name: f.name, why: read })
      else if (!had.has(read.serial) && had.size >= MOST_VOUCHERS)
        refused.push({ name: f.name, why: `a site keeps ${MOST_VOUCHERS} vouchers at the most` })
      else {
        await keepVoucher(tx, siteId, read)
        had.add(read.serial)
        taken++
      }
    }
    await tx.insert(log).values({
      siteId,
      accountId,
      what: `Took in ${taken} of ${files.length} files of makers (certificates and vouchers)`,
    })
    await notify(tx, { site: siteId, topic: 'devices' })
    return { taken, refused }
  })
}

/** As text or as octets; none where it is something else. */
function certificatesOf(content: Uint8Array): Certificate[] {
  const text = Buffer.from(content).toString('latin1')
  if (text.includes('-----BEGIN CERTIFICATE-----')) return certificatesIn(text)
  try {
    return [certificateOf(content)]
  } catch {
    return []
  }
}

/** What a voucher says, or why it is none for here. */
export async function voucherOf(
  der: Uint8Array,
  owner: Certificate,
  anchors: readonly Certificate[],
  now = new Date(),
): Promise<Voucher | string> {
  const read = parsed(der)
  if (typeof read === 'string') return read
  const { cms, voucher } = read
  if (!Buffer.from(voucher['pinned-domain-cert'], 'base64').equals(derOf(owner)))
    return `it vouches for another owner of ${voucher['serial-number']}; give the maker the certificate of this site`
  if (voucher.nonce !== undefined)
    return 'it answers one question of the device and no later one; ask the maker for one with a date'
  const until = voucher['expires-on']
  if (until !== undefined && Date.parse(until) <= now.getTime())
    return `it expired at ${until}; ask the maker for a new one`
  if (!(await isSignedBy(cms, anchors, now)))
    return 'no maker that is known here signed it; add the certificate of its maker'
  return {
    serial: voucher['serial-number'],
    createdAt: new Date(voucher['created-on']),
    expiresAt: until === undefined ? null : new Date(until),
    der,
  }
}

function parsed(der: Uint8Array) {
  try {
    const cms = readCms(der)
    if (cms.contentType !== CONTENT.voucherJson)
      return 'it is a signed message and no voucher in JSON (RFC 8366)'
    const read = voucherSchema.safeParse(JSON.parse(new TextDecoder().decode(cms.content)))
    if (!read.success) return 'it is not after the module of vouchers (RFC 8366 5.3)'
    return { cms, voucher: read.data['ietf-voucher:voucher'] }
  } catch (error) {
    if (error instanceof RangeError || error instanceof SyntaxError)
      return 'it is no certificate and no voucher'
    throw error
  }
}

export async function keepMakers(
  tx: Executor,
  siteId: string,
  ders: readonly Uint8Array[],
): Promise<void> {
  for (const der of ders)
    await tx
      .insert(makers)
      .values({ siteId, digest: digestOfDer(der), certificate: Buffer.from(der) })
      .onConflictDoNothing()
}
export async function keepVoucher(tx: Executor, siteId: string, v: Voucher): Promise<void> {
  const row = { voucher: Buffer.from(v.der), createdAt: v.createdAt, expiresAt: v.expiresAt }
  await tx
    .insert(vouchers)
    .values({ siteId, serial: v.serial, ...row })
    .onConflictDoUpdate({ target: [vouchers.siteId, vouchers.serial], set: row })
}

/** @throws Refused where it is not there */
export async function forgetMaker(
  siteId: string,
  digest: string,
  accountId: string,
): Promise<void> {
  await inTransaction(async (tx) => {
    const [gone] = await tx
      .delete(makers)
      .where(and(eq(makers.siteId, siteId), eq(makers.digest, digest)))
      .returning()
    if (!gone) throw new Refused('not-there', 'no maker with this certificate is known here')
    const name = subjectOf(certificateOf(gone.certificate), 'common') ?? digest
    await tx
      .insert(log)
      .values({ siteId, accountId, what: `Forgot the maker ${name.slice(0, 100)}` })
    await notify(tx, { site: siteId, topic: 'devices' })
  })
}
/** @throws Refused where there is none */
export async function forgetVoucher(
  siteId: string,
  serial: string,
  accountId: string,
): Promise<void> {
  await inTransaction(async (tx) => {
    const gone = await tx
      .delete(vouchers)
      .where(and(eq(vouchers.siteId, siteId), eq(vouchers.serial, serial)))
      .returning({ serial: vouchers.serial })
    if (gone.length === 0) throw new Refused('not-there', 'there is no voucher for this serial')
    await tx.insert(log).values({ siteId, accountId, what: `Forgot the voucher for ${serial}` })
    await notify(tx, { site: siteId, topic: 'devices' })
  })
}
export const makersListed = async (siteId: string) =>
  (await db().select().from(makers).where(eq(makers.siteId, siteId))).map((r) => {
    const c = certificateOf(r.certificate)
    return { digest: r.digest, name: subjectOf(c, 'common') ?? '', until: c.notAfter.value }
  })
