import { createPrivateKey, createPublicKey, generateKeyPairSync } from 'node:crypto'
import { x25519 } from '@noble/curves/ed25519.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { areOnePair, keyOctets, keyText, privateKeyFrom, publicKeyOf } from './keys'

const hex = (text: string): Uint8Array => Uint8Array.from(Buffer.from(text, 'hex'))
const octets = fc.uint8Array({ minLength: 32, maxLength: 32 })

describe('keys of tunnels', () => {
  it('the iterations of RFC 7748 5.2, once and a thousand times (from memory; a slip would not come out right)', () => {
    const nine = hex(`09${'00'.repeat(31)}`)
    expect(publicKeyOf(keyText(nine))).toBe(
      keyText(hex('422c8e7a6227d7bca1350b3e2bb7279f7897b87bb6854b783c60e80311ae3079')),
    )
    let [k, u] = [nine, nine]
    for (let n = 0; n < 1000; n++) [k, u] = [x25519.getSharedSecret(k, u), k]
    expect(keyText(k)).toBe(
      keyText(hex('684cf59ba83309552800ef566f2f4d3c1c3887c49360e3875f2eb94d99532c51')),
    )
  })
  it("are those of Node's own X25519, whatever the octets", () => {
    fc.assert(
      fc.property(octets, (random) => {
        const mine = privateKeyFrom(random)
        const der = Buffer.concat([
          Buffer.from('302e020100300506032b656e04220420', 'hex'),
          keyOctets(mine)!,
        ])
        const open = createPublicKey(createPrivateKey({ key: der, format: 'der', type: 'pkcs8' }))
        const raw = open.export({ format: 'der', type: 'spki' }).subarray(-32)
        expect(publicKeyOf(mine)).toBe(raw.toString('base64'))
      }),
      { numRuns: 60 },
    )
  })
  it('a pair is one, and with any other half it is none', () => {
    const pair = () => {
      const { privateKey } = generateKeyPairSync('x25519')
      return keyText(privateKey.export({ format: 'der', type: 'pkcs8' }).subarray(-32))
    }
    const [a, b] = [pair(), pair()]
    expect(areOnePair(a, publicKeyOf(a)!)).toBe(true)
    expect(areOnePair(a, publicKeyOf(b)!)).toBe(false)
    expect(areOnePair(a, 'not a key')).toBeNull()
  })
  it('what is no key is none: too short, other letters, bits that say nothing set', () => {
    for (const text of ['', 'AAAA', `${'A'.repeat(42)}B=`, `${'A'.repeat(43)}-`, 'A'.repeat(44)])
      expect(keyOctets(text), text).toBeNull()
    expect(keyOctets(` ${keyText(new Uint8Array(32))}\n`)).toHaveLength(32)
  })
})
