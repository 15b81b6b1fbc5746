/**
 * Two documents of one device, compared for people: what is in one and not in the other, by the
 * names of things and without anything that is secret.
 */
import { canonicalJson, digestOf } from '../../plan'

export interface DocumentDifference {
  /** Where: `port 3, tagged`. */
  readonly where: string
  readonly before: string
  readonly after: string
}
/** The same for a program: where by the keys of the document, and what stands there. */
export interface Difference extends DocumentDifference {
  /** Fields by their names, elements of lists by what they are told apart by, rules by their digest. */
  readonly path: readonly string[]
  /** Undefined where it is not there. */
  readonly valueBefore: unknown
  readonly valueAfter: unknown
  readonly isSecret: boolean
}

const secret: ReadonlySet<string> = new Set([
  'key',
  'password',
  'authentication',
  'privacy',
  'privateKey',
  'sharedKey',
])
/** By what the elements of a list are told apart. Other lists are one value. */
const naming: Readonly<Record<string, string>> = {
  ports: 'name',
  segments: 'vlan',
  networks: 'name',
  lines: 'port',
  paths: 'port',
  tunnels: 'zone',
  peers: 'name',
  reservations: 'hardwareAddress',
  names: 'name',
  dynamicNames: 'name',
  origins: 'zone',
  routes: 'to',
}
/** Lists whose elements have a place and no name. */
const numbered: ReadonlySet<string> = new Set(['radios'])
/** Named lists in which the order says something. */
const ordered: ReadonlySet<string> = new Set(['lines'])
const words: Readonly<Record<string, string>> = {
  untagged: 'untagged VLAN',
  tagged: 'tagged VLANs',
  isolated: 'isolated in VLANs',
  page: 'own page',
  vlan: 'VLAN',
  controllerUrl: 'controller',
  networks: 'network',
  radios: 'radio',
  channel: 'channel',
  widthMhz: 'width, MHz',
  powerDbm: 'power, dBm',
  isOn: 'is on',
  isHidden: 'hidden',
  joinsByButton: 'joins by button',
  allowed: 'let in',
  leastDbm: 'heard at the least, dBm',
  leadsUp: 'leads to higher bands',
  paths: 'path',
  tunnels: 'tunnel',
  peers: 'peer',
  routes: 'route to',
  lines: 'line',
  dynamicNames: 'name that follows',
  failover: 'failover',
  watch: 'how it is tested',
  dark: 'lamps off',
  ports: 'port',
  segments: 'segment',
  dhcp: 'leases',
  leaseSeconds: 'length of a lease, s',
  nameServers: 'name servers',
  timeServers: 'time servers',
  relayTo: 'requests passed on to',
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

/**
 * The elements of a list by what they are called; of several under one name the later ones are
 * counted. Undefined where they have none.
 */
function elementsOf(key: string, list: unknown): Map<string, unknown> | undefined {
  if (!Array.isArray(list)) return undefined
  const by = naming[key]
  if (by === undefined && !numbered.has(key)) return undefined
  const out = new Map<string, unknown>()
  for (const [i, element] of list.entries()) {
    if (!isFields(element)) return undefined
    const name = by === undefined ? String(i + 1) : String(element[by])
    let called = name
    for (let n = 2; out.has(called); n++) called = `${name} (${n})`
    out.set(called, element)
  }
  return out
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
function ruleDifferences(before: readonly unknown[], after: readonly unknown[]): Difference[] {
  const [was, is] = [
    new Map(before.map((r) => [canonicalJson(r), r])),
    new Map(after.map((r) => [canonicalJson(r), r])),
  ]
  const gone = [...was]
    .filter(([k]) => !is.has(k))
    .map(([, r]) => told(['rule'], ['rules', digestOf(r)], r, undefined))
  const come = [...is]
    .filter(([k]) => !was.has(k))
    .map(([, r]) => told(['rule'], ['rules', digestOf(r)], undefined, r))
  const kept = (a: ReadonlyMap<string, unknown>, b: ReadonlyMap<string, unknown>): string =>
    [...a.keys()].filter((k) => b.has(k)).join()
  return [
    ...gone,
    ...come,
    ...(kept(was, is) === kept(is, was) ? [] : [inAnotherOrder(['rules'], ['rules'])]),
  ]
}

const told = (
  where: readonly string[],
  path: readonly string[],
  valueBefore: unknown,
  valueAfter: unknown,
): Difference => ({
  where: where.join(', '),
  before: say(valueBefore),
  after: say(valueAfter),
  path,
  valueBefore,
  valueAfter,
  isSecret: false,
})
const inAnotherOrder = (where: readonly string[], path: readonly string[]): Difference => ({
  ...told(where, [...path, 'order'], undefined, undefined),
  before: 'in another order',
  after: 'in this order',
})

/** Where something stands: in words, and by the keys of the document. */
interface At {
  readonly where: readonly string[]
  readonly path: readonly string[]
}

function compare(
  { where, path }: At,
  key: string,
  before: unknown,
  after: unknown,
  out: Difference[],
): void {
  if (canonicalJson(before ?? null) === canonicalJson(after ?? null)) return
  const at = { where: [...where, words[key] ?? key], path: [...path, key] }
  if (secret.has(key)) {
    out.push({
      ...told(at.where, at.path, before, after),
      before: before === null || before === undefined ? NONE : 'the one before',
      after: after === null || after === undefined ? NONE : 'another one',
      isSecret: true,
    })
    return
  }
  if (key === 'rules' && Array.isArray(before) && Array.isArray(after)) {
    out.push(...ruleDifferences(before, after))
    return
  }
  const [was, is] = [elementsOf(key, before), elementsOf(key, after)]
  if (was && is) {
    for (const name of new Set([...was.keys(), ...is.keys()]))
      inside(
        { where: [...where, `${words[key] ?? key} ${name}`], path: [...at.path, name] },
        was.get(name),
        is.get(name),
        out,
      )
    const kept = (a: ReadonlyMap<string, unknown>, b: ReadonlyMap<string, unknown>): string =>
      [...a.keys()].filter((k) => b.has(k)).join()
    if (ordered.has(key) && kept(was, is) !== kept(is, was))
      out.push(inAnotherOrder(at.where, at.path))
    return
  }
  if (isFields(before) && isFields(after)) {
    inside(at, before, after, out)
    return
  }
  out.push(told(at.where, at.path, before, after))
}

const isFields = (v: unknown): v is Record<string, unknown> =>
  typeof v === 'object' && v !== null && !Array.isArray(v)

function inside(at: At, before: unknown, after: unknown, out: Difference[]): void {
  if (!isFields(before) || !isFields(after)) {
    if (canonicalJson(before ?? null) !== canonicalJson(after ?? null))
      out.push(told(at.where, at.path, before, after))
    return
  }
  for (const key of new Set([...Object.keys(before), ...Object.keys(after)]))
    compare(at, key, before[key], after[key], out)
}

/** Line by line, with what stands there. It holds keys and passwords: not for screens. */
export function differencesOf(before: object, after: object): Difference[] {
  const out: Difference[] = []
  inside({ where: [], path: [] }, before, after, out)
  return out
}

/** @param before null where the device has had none */
export function documentDifferences(before: object | null, after: object): DocumentDifference[] {
  if (before === null)
    return [{ where: 'everything', before: NONE, after: 'its first configuration' }]
  return differencesOf(before, after).map(({ where, before: was, after: is }) => ({
    where,
    before: was,
    after: is,
  }))
}
