import fc from 'fast-check'
import { pbkdf2Sync } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import { joinText } from './joinText'
import { keyStrength, timeWords } from './keyStrength'
import { preSharedKey } from './preShared'

describe('the pre-shared key', () => {
  // IEEE 802.11i-2004 annex H.4.3.
  it.each([
    ['password', 'IEEE', 'f42c6fc52df0ebef9ebb4b90b38a5f902e83fe1b135a70e23aed762e9710a12e'],
    [
      'ThisIsAPassword',
      'ThisIsASSID',
      '0dc0d6eb90555ed6419756b9a15ec3e3209b63df707dd508d14581f8982721af',
    ],
    [
      'a'.repeat(32),
      'Z'.repeat(32),
      'becb93866bb8c3832cb777c2f559807c8c59afcb6eae734885001300a981cc62',
    ],
  ])('of %s and %s is what the standard has', (passphrase, name, key) =>
    expect(preSharedKey(passphrase, name)).toBe(key),
  )
  it('is what another implementation makes of any name', () => {
    fc.assert(
      fc.property(
        fc.string({ minLength: 8, maxLength: 63 }),
        fc.string({ minLength: 1, maxLength: 10 }),
        (key, name) => {
          expect(preSharedKey(key, name)).toBe(
            pbkdf2Sync(key, name, 4096, 32, 'sha1').toString('hex'),
          )
        },
      ),
      { numRuns: 8 },
    )
  })
})

describe('how strong a key is', () => {
  const known = ['Berth and Breakfast', 'Kittiwake Harbour']
  const problems = (key: string): string => keyStrength(key, known).problems.join('; ')
  it('by length: 7 are too few, 8 are allowed, 63 are, 64 are only as digits', () => {
    expect(problems('q7#xK2p')).toMatch(/it has 7 characters, and the standard asks for 8/)
    expect(keyStrength('q7#xK2pz', known).isAllowed).toBe(true)
    expect(problems('q7#xK2pz')).toMatch(/8 characters, and 14 are good practice/)
    expect(keyStrength('x'.repeat(63), known).isAllowed).toBe(true)
    expect(problems('x'.repeat(64))).toMatch(/64 characters, and 63 are the most/)
    expect(keyStrength('ab'.repeat(32), known)).toMatchObject({ isAllowed: true, problems: [] })
    expect(problems('pässword long enough')).toMatch(/no printable ASCII/)
  })
  it('by what somebody would try: sayings, names, neighbours on the keyboard', () => {
    for (const key of ['password1234567', 'qwertyuiopasdf', 'aaaaaaaaaaaaaaaa', 'letmeinletmein'])
      expect(problems(key), key).toMatch(/guessed within/)
    expect(problems('kittiwake2026xx')).toMatch(/'Kittiwake' in it/)
    expect(problems('breakfast-4-all-of-us')).toMatch(/'Breakfast' in it/)
  })
  it('says nothing against one that was made up', () => {
    expect(problems('k7mq-x3hw-9tzn-b4vd')).toBe('')
    expect(keyStrength('k7mq-x3hw-9tzn-b4vd', known).guesses10).toBeGreaterThan(17)
  })
  it('takes no long time over anything', () => {
    for (const key of ['', 'a'.repeat(5000), 'abc'.repeat(20), '1234567890'.repeat(6)])
      expect(keyStrength(key, known).seconds).toBeGreaterThan(0)
  })
  it('tells times in words', () => {
    expect([0.2, 90, 7200, 200_000, 1e9, 1e15, 1e20].map(timeWords)).toEqual([
      'a second',
      '2 minutes',
      '2 hours',
      '2 days',
      '32 years',
      '32 million years',
      'a thousand million years or more',
    ])
  })
})

describe('the text of a card', () => {
  it('leads in what would part its fields', () => {
    expect(joinText({ name: 'a;b:c', security: 'wpa2', isHidden: false }, 'x"y\\z,1')).toBe(
      'WIFI:T:WPA;S:a\\;b\\:c;P:x\\"y\\\\z\\,1;;',
    )
    expect(joinText({ name: 'Open', security: 'open', isHidden: true }, null)).toBe(
      'WIFI:T:nopass;S:Open;H:true;;',
    )
  })
})
