/** Password hashing with scrypt (RFC 7914); the cost is written into each hash, so that it can be raised later. */
import { randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto'

const COST = { N: 32_768, r: 8, p: 1, maxmem: 64 * 1024 * 1024 }
const KEY_BYTES = 32

const derive = (password: string, salt: Buffer, options: ScryptOptions): Promise<Buffer> =>
  new Promise((resolve, reject) => scrypt(password.normalize('NFKC'), salt, KEY_BYTES, options, (error, hash) => (error ? reject(error) : resolve(hash))))

export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16)
  const hash = await derive(password, salt, COST)
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64'), hash.toString('base64')].join('$')
}

export async function checkPassword(password: string, stored: string): Promise<boolean> {
  const [kind, n, r, p, salt, hash] = stored.split('$')
  if (kind !== 'scrypt' || !salt || !hash) return false
  const expected = Buffer.from(hash, 'base64')
  const given = await derive(password, Buffer.from(salt, 'base64'), { N: Number(n), r: Number(r), p: Number(p), maxmem: COST.maxmem })
  return given.length === expected.length && timingSafeEqual(given, expected)
}
