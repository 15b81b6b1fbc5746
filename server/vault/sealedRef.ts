/** Names of keys that the vault gives to devices and to one hand-out, and shows to nobody. */
import { createHash } from 'node:crypto'

const PREFIX = 'x25519-'
const MOST = 64
/** Long ids are cut, with what tells them apart. */
export function sealedRef(of: string, id: string): string {
  const ref = `${PREFIX}${of}-${id}`
  if (ref.length <= MOST) return ref
  const tail = createHash('sha256').update(id).digest('hex').slice(0, 12)
  return `${ref.slice(0, MOST - 13)}-${tail}`
}
export const isSealedRef = (ref: string): boolean => ref.startsWith(PREFIX)
