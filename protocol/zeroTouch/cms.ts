/**
 * Signed messages (CMS, RFC 5652) and certificates (RFC 5280) by the usual library: the wrapping
 * that owners, makers and devices have in common. Whom to trust is each one's own matter.
 */
import {
  fromBER,
  Integer,
  ObjectIdentifier,
  OctetString,
  PrintableString,
  Utf8String,
} from 'asn1js'
import * as pki from 'pkijs'

const DATA = '1.2.840.113549.1.7.1'
const ATTRIBUTE = { contentType: '1.2.840.113549.1.9.3', digest: '1.2.840.113549.1.9.4' } as const
const NAME = { common: '2.5.4.3', serial: '2.5.4.5' } as const
const EXTENSION = { constraints: '2.5.29.19', keyUsage: '2.5.29.15' } as const
const CURVE = { name: 'ECDSA', namedCurve: 'P-256' } as const

export type Certificate = pki.Certificate
export interface Signer {
  readonly certificate: Certificate
  readonly key: CryptoKey
}

const exact = (b: Uint8Array): ArrayBuffer => new Uint8Array(b).buffer

export const certificateOf = (der: Uint8Array): Certificate => pki.Certificate.fromBER(exact(der))
export const derOf = (c: Certificate): Uint8Array => new Uint8Array(c.toSchema(true).toBER(false))

/** Of a subject by an attribute, for example its serial number (RFC 4519 2.31). */
export function subjectOf(c: Certificate, part: keyof typeof NAME): string | null {
  const found = c.subject.typesAndValues.find((v) => String(v.type) === NAME[part])
  return found ? String((found.value as PrintableString).valueBlock.value) : null
}

export interface CertificateFacts {
  readonly name: string
  /** Of a device, as on its label. */
  readonly serial?: string
  readonly from: Date
  readonly until: Date
  /** Whether it may sign others. */
  readonly isAuthority: boolean
}

/** A key pair with a certificate for it; by itself where nobody signs it. */
export async function certified(facts: CertificateFacts, by?: Signer): Promise<Signer> {
  const pair = await crypto.subtle.generateKey(CURVE, true, ['sign', 'verify'])
  const c = new pki.Certificate()
  c.version = 2
  c.serialNumber = new Integer({ valueHex: positive(crypto.getRandomValues(new Uint8Array(12))) })
  const subject = [
    [NAME.common, new Utf8String({ value: facts.name })] as const,
    ...(facts.serial ? [[NAME.serial, new PrintableString({ value: facts.serial })] as const] : []),
  ]
  c.subject.typesAndValues = subject.map(
    ([type, value]) => new pki.AttributeTypeAndValue({ type, value }),
  )
  c.issuer = by ? by.certificate.subject : c.subject
  c.notBefore = timeOf(facts.from)
  c.notAfter = timeOf(facts.until)
  const constraints = new pki.BasicConstraints({ cA: facts.isAuthority })
  // keyCertSign and cRLSign, or digitalSignature (RFC 5280 4.2.1.3).
  const usage = facts.isAuthority ? [0x03, 0x02, 0x01, 0x06] : [0x03, 0x02, 0x07, 0x80]
  c.extensions = [
    new pki.Extension({
      extnID: EXTENSION.constraints,
      critical: true,
      extnValue: constraints.toSchema().toBER(false),
      parsedValue: constraints,
    }),
    new pki.Extension({
      extnID: EXTENSION.keyUsage,
      critical: true,
      extnValue: Uint8Array.from(usage).buffer,
    }),
  ]
  await c.subjectPublicKeyInfo.importKey(pair.publicKey)
  await c.sign(by ? by.key : pair.privateKey, 'SHA-256')
  return { certificate: c, key: pair.privateKey }
}
/** With two digits of the year until 2049, with four from then on (RFC 5280 4.1.2.5). */
const timeOf = (value: Date): pki.Time =>
  new pki.Time({ type: value.getUTCFullYear() < 2050 ? 0 : 1, value })
/** A number without a sign (RFC 5280 4.1.2.2). */
function positive(octets: Uint8Array<ArrayBuffer>): ArrayBuffer {
  octets[0] = (octets[0]! & 0x7f) | 0x01
  return octets.buffer
}

/** What is signed, with its kind and digest among what the signature covers (RFC 5652 5.3). */
export async function signedCms(
  contentType: string,
  content: Uint8Array,
  by: Signer,
  /** Beside the signer's own. */
  certificates: readonly Certificate[] = [],
): Promise<Uint8Array> {
  const digest = await crypto.subtle.digest('SHA-256', exact(content))
  const attribute = (type: string, value: ObjectIdentifier | OctetString): pki.Attribute =>
    new pki.Attribute({ type, values: [value] })
  const signed = new pki.SignedData({
    version: 3,
    encapContentInfo: new pki.EncapsulatedContentInfo({
      eContentType: contentType,
      eContent: new OctetString({ valueHex: exact(content) }),
    }),
    signerInfos: [
      new pki.SignerInfo({
        version: 1,
        sid: new pki.IssuerAndSerialNumber({
          issuer: by.certificate.issuer,
          serialNumber: by.certificate.serialNumber,
        }),
        signedAttrs: new pki.SignedAndUnsignedAttributes({
          type: 0,
          attributes: [
            attribute(ATTRIBUTE.contentType, new ObjectIdentifier({ value: contentType })),
            attribute(ATTRIBUTE.digest, new OctetString({ valueHex: digest })),
          ],
        }),
      }),
    ],
    certificates: [by.certificate, ...certificates],
  })
  await signed.sign(by.key, 0, 'SHA-256')
  return wrapped(signed)
}
const wrapped = (signed: pki.SignedData): Uint8Array =>
  new Uint8Array(
    new pki.ContentInfo({
      contentType: pki.ContentInfo.SIGNED_DATA,
      content: signed.toSchema(true),
    })
      .toSchema()
      .toBER(false),
  )

/** Certificates and nothing that is signed (RFC 5652 5.2, RFC 8572 3.2). */
export const certificatesCms = (certificates: readonly Certificate[]): Uint8Array =>
  wrapped(
    new pki.SignedData({
      version: 1,
      encapContentInfo: new pki.EncapsulatedContentInfo({ eContentType: DATA }),
      certificates: [...certificates],
    }),
  )
/** What nobody signed, wrapped all the same (RFC 8572 3.1: its type, then its octets). */
export const plainCms = (contentType: string, content: Uint8Array): Uint8Array =>
  new Uint8Array(
    new pki.ContentInfo({ contentType, content: new OctetString({ valueHex: exact(content) }) })
      .toSchema()
      .toBER(false),
  )

export interface Cms {
  readonly contentType: string
  readonly content: Uint8Array
  readonly certificates: readonly Certificate[]
  /** Null where nobody signed it. */
  readonly signed: pki.SignedData | null
}

/** @throws RangeError where it is no such message */
export function readCms(der: Uint8Array): Cms {
  try {
    const read = fromBER(exact(der))
    if (read.offset === -1) throw new RangeError(read.result.error)
    const info = new pki.ContentInfo({ schema: read.result })
    if (info.contentType !== pki.ContentInfo.SIGNED_DATA)
      return {
        contentType: info.contentType,
        content: octetsOf(info.content as OctetString),
        certificates: [],
        signed: null,
      }
    const signed = new pki.SignedData({ schema: info.content })
    const { eContentType, eContent } = signed.encapContentInfo
    return {
      contentType: eContentType,
      content: eContent ? octetsOf(eContent) : new Uint8Array(),
      certificates: (signed.certificates ?? []).filter(
        (c): c is pki.Certificate => c instanceof pki.Certificate,
      ),
      signed: signed.signerInfos.length > 0 ? signed : null,
    }
  } catch (error) {
    throw new RangeError('this is no CMS message (RFC 5652)', { cause: error })
  }
}
const octetsOf = (o: OctetString): Uint8Array => new Uint8Array(o.getValue())

/** Whether a certificate leads to somebody who is trusted, at a time for which all have to hold. */
export async function isCertifiedBy(
  certificate: Certificate,
  trusted: readonly Certificate[],
  at: Date,
  /** Certificates on the way there. */
  others: readonly Certificate[] = [],
): Promise<boolean> {
  if (trusted.length === 0) return false
  const chain = new pki.CertificateChainValidationEngine({
    trustedCerts: [...trusted],
    // The last is the one that is asked about.
    certs: [...others, certificate],
    checkDate: at,
  })
  try {
    return (await chain.verify()).result
  } catch {
    return false
  }
}

/** A key as it is kept (PKCS 8, RFC 5958), and from there again. */
export const keyOctets = async (key: CryptoKey): Promise<Uint8Array> =>
  new Uint8Array(await crypto.subtle.exportKey('pkcs8', key))
export const keyFrom = (octets: Uint8Array): Promise<CryptoKey> =>
  crypto.subtle.importKey('pkcs8', exact(octets), CURVE, true, ['sign'])

/** As text between lines that say what it is (RFC 7468). */
export function pemOf(what: 'CERTIFICATE' | 'PRIVATE KEY', der: Uint8Array): string {
  const body = btoa(Array.from(der, (o) => String.fromCharCode(o)).join(''))
  return `-----BEGIN ${what}-----\n${body.replace(/.{1,64}/g, '$&\n')}-----END ${what}-----\n`
}
/** The certificates in a text. @throws RangeError where one of them cannot be read */
export function certificatesIn(text: string): Certificate[] {
  const bodies = text.matchAll(
    /-----BEGIN CERTIFICATE-----([A-Za-z\d+/=\s]+)-----END CERTIFICATE-----/g,
  )
  try {
    return Array.from(bodies, ([, body]) =>
      certificateOf(Uint8Array.from(atob(body!.replace(/\s/g, '')), (c) => c.charCodeAt(0))),
    )
  } catch (error) {
    throw new RangeError('a certificate in it cannot be read', { cause: error })
  }
}

/**
 * Whether its one signature holds and its signer leads to somebody who is trusted.
 * @param others certificates that came apart from it
 * @param at the time for which certificates have to hold
 */
export async function isSignedBy(
  { signed, certificates }: Cms,
  trusted: readonly Certificate[],
  at: Date,
  others: readonly Certificate[] = [],
): Promise<boolean> {
  if (signed?.signerInfos.length !== 1) return false
  signed.certificates = [...certificates, ...others]
  try {
    return await signed.verify({
      signer: 0,
      trustedCerts: [...trusted],
      checkChain: true,
      checkDate: at,
    })
  } catch {
    // What cannot be followed is not trusted.
    return false
  }
}
