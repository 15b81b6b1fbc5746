/**
 * Whether the name that a browser used is ours. A page elsewhere can let its own name point at this
 * machine (DNS rebinding) and is then of the same origin as we are, for
 * the browser; only the name gives it away. An address cannot be pointed elsewhere; a name has to
 * be known here.
 */
import { isIP } from 'node:net'

/**
 * @param names known beside addresses and `localhost`; one that begins with a dot stands for all
 * below it
 */
export function isOurHost(host: string | undefined, names: readonly string[]): boolean {
  const name = /^(\[[0-9a-f:.]+\]|[^:]*)(?::\d{1,5})?$/i
    .exec(host ?? '')?.[1]
    ?.toLowerCase()
    .replace(/\.$/, '')
  if (!name) return false
  if (isIP(name.replace(/^\[|\]$/g, '')) !== 0) return true
  return [...names, 'localhost'].some((known) =>
    known.startsWith('.') ? name.endsWith(known) : name === known,
  )
}

/** `MAST_HOSTS`: names parted by commas. */
export const knownHosts = (setting = process.env.MAST_HOSTS ?? ''): string[] =>
  setting
    .toLowerCase()
    .split(',')
    .map((n) => n.trim())
    .filter((n) => n !== '')
