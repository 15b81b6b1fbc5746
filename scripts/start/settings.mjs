// Keys and passwords of this working copy, made once.
import { hkdfSync, randomBytes } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ensureState } from './requirements.mjs'

/** @param {string} folder where they are kept, readable by this account alone */
export function settings(folder) {
  ensureState()
  const file = join(folder, 'settings.json')
  if (!existsSync(file))
    writeFileSync(
      file,
      JSON.stringify({
        vaultKey: randomBytes(32).toString('base64'),
        demoPassword:
          `${randomBytes(2).toString('hex')}-${randomBytes(2).toString('hex')}-` +
          `${randomBytes(2).toString('hex')}`,
      }),
      { mode: 0o600 },
    )
  return JSON.parse(readFileSync(file, 'utf8'))
}

/**
 * What the stand-ins keep on disk is sealed with a key of its own, made from that of the vault
 * (HKDF, RFC 5869).
 */
export const standinsKey = (vaultKey) =>
  Buffer.from(
    hkdfSync('sha256', Buffer.from(vaultKey, 'base64'), '', 'able-mast stand-ins', 32),
  ).toString('base64')

/** Takes the key of another system over, so that what was sealed there can be opened here. */
export function adoptVaultKey(folder, vaultKey) {
  writeFileSync(join(folder, 'settings.json'), JSON.stringify({ ...settings(folder), vaultKey }), {
    mode: 0o600,
  })
}
