/**
 * Password hashing with scrypt (RFC 7914); the cost is written into each hash, so that it can be
 * raised later.
 */
import { randomBytes, timingSafeEqual } from 'node:crypto'
import { slowKey } from '../vault/slowKey'

const COST = { N: 32_768, r: 8, p: 1, maxmem: 64 * 1024 * 1024 }
const KEY_BYTES = 32

export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16)
  const hash = await slowKey(password, salt, KEY_BYTES, COST)
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64'), hash.toString('base64')].join(
    '$',
  )
}

export async function checkPassword(password: string, stored: string): Promise<boolean> {
  const [kind, n, r, p, salt, hash] = stored.split('$')
  if (kind !== 'scrypt' || !salt || !hash) return false
  const expected = Buffer.from(hash, 'base64')
  const given = await slowKey(password, Buffer.from(salt, 'base64'), KEY_BYTES, {
    N: Number(n),
    r: Number(r),
    p: Number(p),
    maxmem: COST.maxmem,
  })
  return given.length === expected.length && timingSafeEqual(given, expected)
}
