import { expect, it } from 'vitest'
import { scryptSync } from 'node:crypto'
import { checkPassword, hashPassword } from './passwords'

it('takes the right password and no other', async () => {
  const stored = await hashPassword('a-rope-a-knot')
  expect(stored).not.toContain('rope')
  expect(await checkPassword('a-rope-a-knot', stored)).toBe(true)
  expect(await checkPassword('a-rope-a-knoT', stored)).toBe(false)
  expect(await checkPassword('x', 'plain text')).toBe(false)
})
it('scrypt gives the vector of RFC 7914 section 12 ("password", "NaCl", N 1024, r 8, p 16)', () => {
  expect(scryptSync('password', 'NaCl', 64, { N: 1024, r: 8, p: 16 }).toString('hex')).toMatch(
    /^fdbabe1c9d3472007856e7190d01e9fe7c6ad7cbc8237830e77376634b373162/,
  )
})
it('reads a password the same however its accents are written (NFKC)', async () =>
  expect(await checkPassword('caf\u00e9-au-lait', await hashPassword('cafe\u0301-au-lait'))).toBe(
    true,
  ))
