/** Changes of a document that leave the ways to the controller alone. */
import { canonicalJson } from '../plan'

/**
 * Parts of a document on which it depends whether a device, or one behind it, finds its controller.
 */
const quiet: ReadonlySet<string> = new Set(['name', 'names', 'networks', 'system'])
/** The same of a socket. */
const quietOfPort: ReadonlySet<string> = new Set(['description', 'stormPercent'])
const bearing = (key: string, value: unknown): unknown =>
  key === 'ports' && Array.isArray(value)
    ? value.map((p: object) =>
        Object.fromEntries(Object.entries(p).filter(([k]) => !quietOfPort.has(k))),
      )
    : (value ?? null)
/**
 * Whether a change leaves alone every way to the controller that leads through the device or to it.
 */
export const isQuiet = (before: object | null, after: object): boolean =>
  before !== null &&
  [...new Set([...Object.keys(before), ...Object.keys(after)])].every(
    (k) =>
      quiet.has(k) ||
      canonicalJson(bearing(k, (before as Record<string, unknown>)[k])) ===
        canonicalJson(bearing(k, (after as Record<string, unknown>)[k])),
  )
