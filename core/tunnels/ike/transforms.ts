/**
 * What both ends of IKEv2 may agree on, with what is asked of who implements it: RFC 8247 for the
 * agreement itself, RFC 8221 for the packets. Words are those in which proposals are written.
 */
export type TransformKind = 'encryption' | 'integrity' | 'prf' | 'group'
export type Standing = 'must' | 'should' | 'may' | 'should-not' | 'must-not'
export interface Transform {
  readonly kind: TransformKind
  readonly standing: Standing
  /** Encrypts and checks in one; needs no integrity of its own (RFC 5282, RFC 7634). */
  readonly isCombined?: boolean
}

const encryption = (standing: Standing, isCombined = false): Transform => ({
  kind: 'encryption',
  standing,
  isCombined,
})
const of = (kind: TransformKind, standing: Standing): Transform => ({ kind, standing })

export const transforms: Readonly<Record<string, Transform>> = {
  aes128: encryption('must'),
  aes256: encryption('must'),
  aes128gcm16: encryption('should', true),
  aes256gcm16: encryption('should', true),
  chacha20poly1305: encryption('should', true),
  '3des': encryption('may'),
  des: encryption('must-not'),
  sha256: of('integrity', 'must'),
  sha384: of('integrity', 'may'),
  sha512: of('integrity', 'should'),
  aesxcbc: of('integrity', 'should'),
  sha1: of('integrity', 'must'),
  md5: of('integrity', 'must-not'),
  prfsha256: of('prf', 'must'),
  prfsha384: of('prf', 'may'),
  prfsha512: of('prf', 'should'),
  prfsha1: of('prf', 'must'),
  prfmd5: of('prf', 'must-not'),
  modp768: of('group', 'must-not'),
  modp1024: of('group', 'should-not'),
  modp1536: of('group', 'should-not'),
  modp2048: of('group', 'must'),
  modp3072: of('group', 'may'),
  modp4096: of('group', 'may'),
  ecp256: of('group', 'should'),
  ecp384: of('group', 'may'),
  ecp521: of('group', 'may'),
  curve25519: of('group', 'may'),
}
