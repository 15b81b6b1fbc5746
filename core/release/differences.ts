/**
 * Two documents of one device, compared for people: what is in one and not in the other, by the
 * names of things and without anything that is secret.
 */
import { canonicalJson } from '../plan'

export interface DocumentDifference {
  /** Where: `port 3, tagged`. */
  readonly where: string
  readonly before: string
  readonly after: string
}

const secret: ReadonlySet<string> = new Set(['key', 'password', 'authentication', 'privacy'])
/** By what the elements of a list are told apart, in the order of preference. */
const naming = ['name', 'vlan', 'hardwareAddress', 'zone'] as const
const words: Readonly<Record<string, string>> = {
  untagged: 'untagged VLAN',
  tagged: 'tagged VLANs',
  isolated: 'isolated in VLANs',
  page: 'own page',
  vlan: 'VLAN',
  controllerUrl: 'controller',
  networks: 'network',
  ports: 'port',
  segments: 'segment',
  dhcp: 'leases',
  leaseSeconds: 'length of a lease, s',
  nameServers: 'name servers',
  timeServers: 'time servers',
  relayTo: 'requests passed on to',
  line: 'line',
  mtu: 'MTU',
  addressLists: 'address list',
  masquerade: 'translated VLANs',
  forwards: 'port forwards',
  forwarded: 'through a port forward',
  outside: 'port of the line',
  inside: 'port inside',
  hours: 'at',
  days: 'days',
  spanningTree: 'spanning tree',
  priority: 'priority',
  edge: 'hosts behind it',
  fromMinute: 'from minute',
  toMinute: 'to minute',
  names: 'name',
  origins: 'senders of',
  clientIsolation: 'clients kept apart',
  hardwareAddress: 'hardware address',
  segmentSize: 'largest TCP segment',
  reservations: 'reservation',
  system: 'device',
  hostName: 'name',
  timeZone: 'time zone',
  logTo: 'log goes to',
  monitoring: 'monitoring',
  neighbours: 'tells neighbours',
  pageFrom: 'page answers to',
  mode: 'kind',
  description: 'leads to',
  edgeGuard: 'closes to bridges',
  leaseGuard: 'refuses lease servers',
  routerGuard: 'refuses routers',
  stormPercent: 'broadcasts at the most, %',
  speedMbps: 'forced speed, Mbit/s',
  only: 'only from',
  never: 'never from',
  pools: 'pools',
  rules: 'rules',
}
const NONE = 'none'

function nameOf(element: unknown): string | undefined {
  if (typeof element !== 'object' || element === null) return undefined
  for (const n of naming) if (n in element) return String((element as Record<string, unknown>)[n])
  return undefined
}

function say(value: unknown): string {
  if (value === null || value === undefined) return NONE
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value !== 'object') return String(value)
  if (Array.isArray(value)) return value.length === 0 ? NONE : value.map(say).join(', ')
  const fields = value as Record<string, unknown>
  if (typeof fields.first === 'string' && typeof fields.last === 'string')
    return `${fields.first} to ${fields.last}`
  if (typeof fields.first === 'number' && typeof fields.last === 'number')
    return fields.first === fields.last ? String(fields.first) : `${fields.first} to ${fields.last}`
  return Object.entries(fields)
    .filter(
      ([k, v]) =>
        v !== null && !(k === 'forwarded' && v === 'too') && !(Array.isArray(v) && v.length === 0),
    )
    .map(([k, v]) => (secret.has(k) ? `${words[k] ?? k} set` : `${words[k] ?? k} ${say(v)}`))
    .join('; ')
}

/** Rules have no names; what came and what went of them is told whole. */
function ruleDifferences(
  before: readonly unknown[],
  after: readonly unknown[],
): DocumentDifference[] {
  const [was, is] = [
    new Map(before.map((r) => [canonicalJson(r), r])),
    new Map(after.map((r) => [canonicalJson(r), r])),
  ]
  const gone = [...was]
    .filter(([k]) => !is.has(k))
    .map(([, r]): DocumentDifference => ({ where: 'rule', before: say(r), after: NONE }))
  const come = [...is]
    .filter(([k]) => !was.has(k))
    .map(([, r]): DocumentDifference => ({ where: 'rule', before: NONE, after: say(r) }))
  const kept = (a: ReadonlyMap<string, unknown>, b: ReadonlyMap<string, unknown>): string =>
    [...a.keys()].filter((k) => b.has(k)).join()
  const moved: DocumentDifference[] =
    kept(was, is) === kept(is, was)
      ? []
      : [{ where: 'rules', before: 'in another order', after: 'in this order' }]
  return [...gone, ...come, ...moved]
}

function compare(
  where: readonly string[],
  key: string,
  before: unknown,
  after: unknown,
  out: DocumentDifference[],
): void {
  if (canonicalJson(before ?? null) === canonicalJson(after ?? null)) return
  const at = [...where, words[key] ?? key]
  if (secret.has(key)) {
    out.push({
      where: at.join(', '),
      before: before === null || before === undefined ? NONE : 'the one before',
      after: after === null || after === undefined ? NONE : 'another one',
    })
    return
  }
  if (key === 'rules' && Array.isArray(before) && Array.isArray(after)) {
    out.push(...ruleDifferences(before, after))
    return
  }
  const isNamed = (list: unknown): list is unknown[] =>
    Array.isArray(list) && list.every((e) => nameOf(e) !== undefined)
  if (isNamed(before) && isNamed(after)) {
    const [was, is] = [
      new Map(before.map((e) => [nameOf(e)!, e])),
      new Map(after.map((e) => [nameOf(e)!, e])),
    ]
    for (const name of new Set([...was.keys(), ...is.keys()]))
      inside([...where, `${words[key] ?? key} ${name}`], was.get(name), is.get(name), out)
    return
  }
  if (isFields(before) && isFields(after)) {
    inside(at, before, after, out)
    return
  }
  out.push({ where: at.join(', '), before: say(before), after: say(after) })
}

const isFields = (v: unknown): v is Record<string, unknown> =>
  typeof v === 'object' && v !== null && !Array.isArray(v)

function inside(
  where: readonly string[],
  before: unknown,
  after: unknown,
  out: DocumentDifference[],
): void {
  if (!isFields(before) || !isFields(after)) {
    if (canonicalJson(before ?? null) !== canonicalJson(after ?? null))
      out.push({ where: where.join(', '), before: say(before), after: say(after) })
    return
  }
  for (const key of new Set([...Object.keys(before), ...Object.keys(after)]))
    compare(where, key, before[key], after[key], out)
}

/** @param before null where the device has had none */
export function documentDifferences(before: object | null, after: object): DocumentDifference[] {
  if (before === null)
    return [{ where: 'everything', before: NONE, after: 'its first configuration' }]
  const out: DocumentDifference[] = []
  inside([], before, after, out)
  return out
}

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
