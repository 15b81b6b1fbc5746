/**
 * Where the stand-ins come from: one maker of all of them, who puts into each what it proves itself
 * with, and vouches for owners.
 */
import {
  certificateOf,
  derOf,
  keyFrom,
  keyOctets,
  pemOf,
  type Certificate,
} from '@mast/protocol/zeroTouch'
import { base64, octets } from './base64'
import { Maker } from './maker'

/** Where the maker is kept while the process is down. */
export interface Kept {
  read(): string | null
  write(text: string): void
}
/** Certificate and key as text (RFC 7468). */
export interface Identity {
  readonly certificate: string
  readonly key: string
}

/** Vouchers hold so long, ms. */
const HOLDS_MS = 90 * 86_400_000

export class Factory {
  private known: Promise<Maker> | null = null
  private readonly identities = new Map<string, Promise<Identity>>()

  constructor(private readonly kept?: Kept) {}

  private get maker(): Promise<Maker> {
    this.known ??= this.open()
    return this.known
  }
  private async open(): Promise<Maker> {
    const text = this.kept?.read()
    if (text) {
      const { certificate, key } = JSON.parse(text) as Identity
      return new Maker({
        certificate: certificateOf(octets(certificate)),
        key: await keyFrom(octets(key)),
      })
    }
    const maker = await Maker.make()
    const { certificate, key } = maker.root
    this.kept?.write(
      JSON.stringify({
        certificate: base64(derOf(certificate)),
        key: base64(await keyOctets(key)),
      }),
    )
    return maker
  }

  /** What its devices trust. */
  async anchors(): Promise<Certificate[]> {
    return [(await this.maker).anchor]
  }

  /** What a device has had since it was made; the key to it never leaves it. */
  identity(serial: string): Promise<Identity> {
    const known = this.identities.get(serial) ?? this.make(serial)
    this.identities.set(serial, known)
    return known
  }
  private async make(serial: string): Promise<Identity> {
    const { certificate, key } = await (await this.maker).identity(serial)
    return {
      certificate: pemOf('CERTIFICATE', derOf(certificate)),
      key: pemOf('PRIVATE KEY', await keyOctets(key)),
    }
  }

  /** @param owner DER of the certificate by which the owner is known */
  async vouchers(owner: Uint8Array, serials: readonly string[], now: Date): Promise<Uint8Array[]> {
    const maker = await this.maker
    const [pinned, expiresOn] = [certificateOf(owner), new Date(now.getTime() + HOLDS_MS)]
    return Promise.all(
      serials.map((serial) => maker.voucher({ serial, owner: pinned, createdOn: now, expiresOn })),
    )
  }
}
