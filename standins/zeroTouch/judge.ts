/**
 * What a new device makes of what a bootstrap server gave it (RFC 8572 5.3 to 5.6): it loads nothing
 * that was not signed for it by the owner for whom its maker vouches, wherever it came from.
 */
import {
  certificateOf,
  CONTENT,
  conveyedSchema,
  isSignedBy,
  readCms,
  voucherSchema,
  type BootstrapOutput,
  type Certificate,
  type Cms,
  type Conveyed,
  type Voucher,
} from '@mast/protocol/zeroTouch'
import { base64, octets } from './base64'

export interface Newcomer {
  readonly serial: string
  /** Who its maker is, as it left the factory. */
  readonly anchors: readonly Certificate[]
  /** What it asked this time; null where it asked without. */
  readonly nonce: Uint8Array | null
  readonly now: Date
}

type Onboarding = Extract<
  Conveyed,
  { 'ietf-sztp-conveyed-info:onboarding-information': unknown }
>['ietf-sztp-conveyed-info:onboarding-information']

export type Judged =
  | { readonly kind: 'onboarding'; readonly information: Onboarding }
  | {
      readonly kind: 'redirect'
      readonly servers: readonly { readonly address: string; readonly port: number }[]
      /** Signed: what it says of them may be trusted. Else they are asked as strangers. */
      readonly isTrusted: boolean
    }
  | { readonly kind: 'refused'; readonly why: string }

const HTTPS = 443
const refused = (why: string): Judged => ({ kind: 'refused', why })

export async function judged(output: BootstrapOutput, device: Newcomer): Promise<Judged> {
  try {
    const conveyed = readCms(octets(output['conveyed-information']))
    if (conveyed.contentType !== CONTENT.conveyedJson)
      return refused('what was conveyed is of another kind')
    const isSigned = conveyed.signed !== null
    if (isSigned) {
      const why = await notForIt(conveyed, output, device)
      if (why) return refused(why)
    }
    const said = conveyedSchema.safeParse(JSON.parse(new TextDecoder().decode(conveyed.content)))
    if (!said.success) return refused('what was conveyed is not after its schema')
    if ('ietf-sztp-conveyed-info:redirect-information' in said.data)
      return {
        kind: 'redirect',
        servers: said.data['ietf-sztp-conveyed-info:redirect-information']['bootstrap-server'].map(
          ({ address, port }) => ({ address, port: port ?? HTTPS }),
        ),
        isTrusted: isSigned,
      }
    return isSigned
      ? {
          kind: 'onboarding',
          information: said.data['ietf-sztp-conveyed-info:onboarding-information'],
        }
      : refused('nobody signed it, and the server is a stranger')
  } catch (error) {
    if (error instanceof RangeError || error instanceof SyntaxError) return refused(error.message)
    throw error
  }
}

/** Why signed data is not for this device; null where it is (RFC 8572 5.4). */
async function notForIt(
  conveyed: Cms,
  output: BootstrapOutput,
  device: Newcomer,
): Promise<string | null> {
  const [voucherText, certificateText] = [output['ownership-voucher'], output['owner-certificate']]
  if (!voucherText || !certificateText) return 'it is signed, and nobody says by whom'
  const wrapped = readCms(octets(voucherText))
  if (wrapped.contentType !== CONTENT.voucherJson) return 'the voucher is of another kind'
  if (!(await isSignedBy(wrapped, device.anchors, device.now)))
    return 'the voucher is not from its maker'
  const parsed = voucherSchema.safeParse(JSON.parse(new TextDecoder().decode(wrapped.content)))
  if (!parsed.success) return 'the voucher is not after its schema'
  const voucher = parsed.data['ietf-voucher:voucher']
  const why = voucherFails(voucher, device)
  if (why) return why
  const pinned = certificateOf(octets(voucher['pinned-domain-cert']))
  const owners = readCms(octets(certificateText)).certificates
  if (!(await isSignedBy(conveyed, [pinned], device.now, owners)))
    return 'it is not signed by the owner that the voucher names'
  return null
}

function voucherFails(voucher: Voucher, { serial, nonce, now }: Newcomer): string | null {
  if (voucher['serial-number'] !== serial)
    return `the voucher is for ${voucher['serial-number']}, this is ${serial}`
  if (Date.parse(voucher['created-on']) > now.getTime())
    return 'the voucher is from a time that has not come'
  const until = voucher['expires-on']
  if (until !== undefined && Date.parse(until) <= now.getTime())
    return `the voucher expired at ${until}`
  if (voucher.nonce !== undefined && (nonce === null || voucher.nonce !== base64(nonce)))
    return 'the voucher answers another question: it was used before'
  return null
}
