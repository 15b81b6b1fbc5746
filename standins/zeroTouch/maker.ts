/**
 * Who made the devices: puts a certificate with its serial into each (IEEE 802.1AR), and vouches
 * for owners (RFC 8366).
 */
import {
  certified,
  CONTENT,
  derOf,
  signedCms,
  type Certificate,
  type Signer,
  type Voucher,
} from '@mast/protocol/zeroTouch'
import { base64 } from './base64'

const FROM = new Date('2020-01-01T00:00:00Z')
/** Of who never expires (IEEE 802.1AR 8.7, RFC 5280 4.1.2.5). */
const FOREVER = new Date('9999-12-31T23:59:59Z')

export interface VouchedFor {
  readonly serial: string
  /** By whose certificate the owner is known. */
  readonly owner: Certificate
  readonly createdOn: Date
  /** One of the two: until when it holds, or for which question. */
  readonly expiresOn?: Date
  readonly nonce?: Uint8Array
}

export class Maker {
  constructor(readonly root: Signer) {}

  static make = async (name = 'Maker of the stand-ins'): Promise<Maker> =>
    new Maker(await certified({ name, from: FROM, until: FOREVER, isAuthority: true }))

  /** What its devices trust from the factory. */
  get anchor(): Certificate {
    return this.root.certificate
  }

  identity = (serial: string): Promise<Signer> =>
    certified({ name: 'Device', serial, from: FROM, until: FOREVER, isAuthority: false }, this.root)

  voucher({ serial, owner, createdOn, expiresOn, nonce }: VouchedFor): Promise<Uint8Array> {
    const voucher: Voucher = {
      'created-on': createdOn.toISOString(),
      ...(expiresOn ? { 'expires-on': expiresOn.toISOString() } : {}),
      assertion: nonce ? 'logged' : 'verified',
      'serial-number': serial,
      'pinned-domain-cert': base64(derOf(owner)),
      ...(nonce ? { nonce: base64(nonce) } : {}),
    }
    const text = JSON.stringify({ 'ietf-voucher:voucher': voucher })
    return signedCms(CONTENT.voucherJson, new TextEncoder().encode(text), this.root)
  }
}
