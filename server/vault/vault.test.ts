import { randomBytes } from 'node:crypto'
import { beforeAll, expect, it } from 'vitest'
import { inventSecret, open, seal } from './vault'

beforeAll(() => {
  process.env.MAST_VAULT_KEY = randomBytes(32).toString('base64')
})

it('opens what it sealed, and seals the same text differently each time', () => {
  expect(open(seal('gull', 'site/key'), 'site/key')).toBe('gull')
  expect(seal('gull', 'site/key').equals(seal('gull', 'site/key'))).toBe(false)
})
it('refuses what was changed, moved to another site, or sealed with another key', () => {
  const sealed = seal('gull', 'site/key')
  expect(() => open(sealed, 'other/key')).toThrow()
  for (const i of [0, 12, 28]) {
    const bad = Buffer.from(sealed)
    bad[i]! ^= 1
    expect(() => open(bad, 'site/key')).toThrow()
  }
  process.env.MAST_VAULT_KEY = randomBytes(32).toString('base64')
  expect(() => open(sealed, 'site/key')).toThrow()
  process.env.MAST_VAULT_KEY = 'short'
  expect(() => seal('x', 'y')).toThrow(/MAST_VAULT_KEY/)
})
it('makes up secrets without letters that are taken for one another', () => {
  for (let i = 0; i < 200; i++)
    expect(inventSecret()).toMatch(/^([abcdefghjkmnpqrstuvwxyz2-9]{4}-?){4}$/)
})
