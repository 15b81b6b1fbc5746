import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { compareIke, mirrored, type IkeEnd } from './compare'
import { agreedOn, readProposal } from './proposal'
import { writeSwanctl } from './swanctl'
import { transforms } from './transforms'

const end = (more: Partial<IkeEnd> = {}): IkeEnd => ({
  ...{ proposal: 'aes256gcm16-prfsha384-ecp384', childProposal: 'aes256gcm16-ecp384' },
  ...{ localId: 'harbour', remoteId: 'shop', lifetimeSeconds: 14_400, childLifetimeSeconds: 3600 },
  ...{ localSelectors: ['10.20.20.0/24'], remoteSelectors: ['192.168.7.0/24'] },
  ...more,
})

describe('proposals', () => {
  // RFC 8247 2.1 to 2.4.
  it.each([
    ['encryption', 'aes128', 'must'],
    ['encryption', 'aes256gcm16', 'should'],
    ['encryption', 'des', 'must-not'],
    ['prf', 'prfsha256', 'must'],
    ['prf', 'prfmd5', 'must-not'],
    ['integrity', 'sha256', 'must'],
    ['group', 'modp2048', 'must'],
    ['group', 'ecp256', 'should'],
    ['group', 'modp1024', 'should-not'],
    ['group', 'modp768', 'must-not'],
  ])('%s %s: %s', (kind, word, standing) => {
    expect(transforms[word]).toMatchObject({ kind, standing })
  })
  it.each([
    ['aes256gcm16-prfsha384-ecp384', 'ike', []],
    ['aes256-sha256-modp2048', 'ike', []],
    ['aes256gcm16', 'child', []],
    ['aes256-modp2048', 'ike', [/integrity algorithm is missing/]],
    ['aes256gcm16-ecp384', 'ike', [/a prf has to be named/]],
    ['aes256gcm16-sha256-prfsha256-ecp256', 'ike', [/takes no integrity beside it/]],
    ['aes128-aes128gcm16-sha256', 'child', [/a proposal of its own/]],
    ['sha256-modp2048', 'ike', [/nothing that encrypts/]],
    ['aes256-sha256', 'ike', [/no group/]],
    ['ase256-sha256-modp2048', 'ike', [/'ase256' is no algorithm/, /nothing that encrypts/]],
  ] as const)('%s of %s', (text, of, problems) => {
    const found = readProposal(text, of).problems
    expect(found).toHaveLength(problems.length)
    for (const [n, p] of problems.entries()) expect(found[n]).toMatch(p)
  })
  it('agree on the first that both have, whatever they have besides', () => {
    expect(agreedOn('aes256-aes128-sha256-modp2048', 'aes128-sha256-modp2048-ecp256', 'ike')).toBe(
      'aes128-sha256-prfsha256-modp2048',
    )
    expect(
      agreedOn(
        'aes256gcm16-prfsha384-ecp384, aes256-sha256-modp2048',
        'aes256-sha256-modp2048',
        'ike',
      ),
    ).toBe('aes256-sha256-prfsha256-modp2048')
    expect(agreedOn('aes256-sha256-modp2048', 'aes256-sha256-ecp256', 'ike')).toBeNull()
    // Of the traffic a group may be missing at one end only where it is at the other.
    expect(agreedOn('aes256gcm16-ecp384', 'aes256gcm16', 'child')).toBeNull()
  })
  it('is the same from either end: both agree, or neither', () => {
    const words = fc.uniqueArray(fc.constantFrom(...Object.keys(transforms)), { minLength: 1 })
    fc.assert(
      fc.property(words, words, fc.constantFrom('ike' as const, 'child' as const), (a, b, of) => {
        const [x, y] = [a.join('-'), b.join('-')]
        expect(agreedOn(x, y, of) === null).toBe(agreedOn(y, x, of) === null)
      }),
    )
  })
})

describe('both ends', () => {
  it('fit where one is the mirror of the other', () => {
    expect(compareIke(end(), mirrored(end())).every((r) => r.isFit)).toBe(true)
    expect(mirrored(mirrored(end()))).toEqual(end())
  })
  it.each<[Partial<IkeEnd>, string, RegExp]>([
    [{ proposal: 'aes128-sha1-modp1024' }, 'proposal', /nothing comes up/],
    [{ childProposal: 'aes128-sha256' }, 'childProposal', /nothing passes/],
    [{ localId: 'store' }, 'remoteId', /authentication fails/],
    [{ remoteId: 'port' }, 'localId', /authentication fails/],
    [{ localSelectors: ['192.168.0.0/16'] }, 'remoteSelectors', /narrowed to what both name/],
    [{ remoteSelectors: ['10.99.0.0/24'] }, 'localSelectors', /nothing passes/],
  ])('%o breaks %s', (more, field, means) => {
    const apart = compareIke(end(), { ...mirrored(end()), ...more }).filter((r) => !r.isFit)
    expect(apart.map((r) => r.field)).toEqual([field])
    expect(apart[0]!.means).toMatch(means)
  })
  it('keep lifetimes of their own', () => {
    const rows = compareIke(end(), { ...mirrored(end()), lifetimeSeconds: 600 })
    expect(rows.find((r) => r.field === 'lifetimeSeconds')).toMatchObject({
      isFit: true,
      means: expect.stringMatching(/after 600 s/),
    })
  })
})

it('what a person typed stays a value, and shared keys are written only where they are given', () => {
  const connection = {
    ...{ id: 'to shop', name: 'To the\nshop }', remote: 'shop.example', interfaceId: 3 },
    ...{ sharedKeyRef: 'psk', end: end({ localId: 'a"b\n}' }) },
  }
  const text = writeSwanctl([connection])
  expect(text).toContain('      id = "a b }"\n')
  expect(text).toContain('  # To the shop }\n')
  expect(text).not.toContain('secret =')
  expect(writeSwanctl([connection], { psk: 'Key' })).toContain('    secret = 0x4b6579\n')
})
