/**
 * Zones in master file format (RFC 1035 5): the names inside the site and their reverse, written;
 * address records read.
 */
import {
  explainAddress,
  formatAddress,
  parsePrefix,
  reverseName,
  reverseZones,
} from '../addressing'
import type { SiteModel } from '../topology'
import { hostNames, servingNames, type HostName } from '../naming'
import type { LineProblem } from './format'
import { addressReading, stemOf } from './addressReading'
import { defineFormat } from './format'
import type { AddressFile } from './segmentRows'

/** Who answers for a zone and how long answers keep, s. */
const TTL = 3600
const head = (zone: string, server: string, serial: number): string[] => [
  `$ORIGIN ${zone}.`,
  `$TTL ${TTL}`,
  `@ IN SOA ${server}. hostmaster.${zone}. ( ${serial} 3600 900 1209600 300 )`,
  `@ IN NS ${server}.`,
]

/**
 * The forward zone and every reverse zone that has an address in it, by zone name. Empty where the
 * site has no domain, or no address to serve them from.
 */
export function writeZones(model: SiteModel, serial: number): Record<string, string> {
  const { domain } = model.plan.site
  if (!domain) return {}
  const names = hostNames(model)
  // Whoever loads the zones serves them: the host inside that is asked for names, else the gateway.
  const serving = servingNames(model, names) ?? names.find((n) => n.deviceId === null)
  if (!serving) return {}
  const server = `${serving.label}.${domain}`
  const zones: Record<string, string> = {}
  zones[domain] = [
    ...head(domain, server, serial),
    ...names.map((n) => `${n.label} IN A ${n.address} ; ${comment(n.of)}`),
  ]
    .map((line) => `${line}\n`)
    .join('')
  for (const s of model.segments) {
    const p = s.subnet ? parsePrefix(s.subnet) : undefined
    for (const zone of p ? reverseZones(p) : [])
      zones[zone] ??= reverse(zone, server, serial, names, domain)
  }
  return zones
}
const comment = (text: string): string => text.replace(/[\r\n;]+/g, ' ')

function reverse(
  zone: string,
  server: string,
  serial: number,
  names: readonly HostName[],
  domain: string,
): string {
  const inside = names.flatMap((n) => {
    const full = reverseName(n.address)
    return full.endsWith(`.${zone}`)
      ? [`${full.slice(0, -zone.length - 1)} IN PTR ${n.label}.${domain}.`]
      : []
  })
  return `${[...head(zone, server, serial), ...inside].join('\n')}\n`
}

export interface ZoneRecord {
  readonly line: number
  readonly name: string
  readonly type: 'A' | 'AAAA' | 'PTR'
  readonly data: string
}
export interface ZoneFile {
  readonly records: readonly ZoneRecord[]
  readonly problems: readonly LineProblem[]
  readonly leftOut: readonly LineProblem[]
}

const classes = new Set(['IN', 'CH', 'HS'])
const types = new Set([
  'A',
  'AAAA',
  'PTR',
  'SOA',
  'NS',
  'MX',
  'TXT',
  'CNAME',
  'SRV',
  'CAA',
  'DS',
  'DNSKEY',
  'RRSIG',
  'NSEC',
  'HINFO',
  'SSHFP',
  'TLSA',
  'DNAME',
  'NAPTR',
])

/**
 * Reads A, AAAA and PTR records with full names. $INCLUDE is refused: a file says nothing of other
 * files here.
 */
export function readZone(text: string, zone = ''): ZoneFile {
  const records: ZoneRecord[] = []
  const problems: LineProblem[] = []
  const leftOut: LineProblem[] = []
  let origin = zone.replace(/\.$/, '')
  let owner = origin
  const full = (name: string): string =>
    (name === '@'
      ? origin
      : name.endsWith('.')
        ? name.slice(0, -1)
        : origin
          ? `${name}.${origin}`
          : name
    ).toLowerCase()
  for (const { line, fields, isIndented } of entries(text, problems)) {
    const say = (list: LineProblem[], reason: string): void =>
      void list.push({ line, column: 1, reason })
    const [first = ''] = fields
    if (first.toUpperCase() === '$ORIGIN') {
      origin = (fields[1] ?? '').replace(/\.$/, '')
      continue
    }
    if (first.startsWith('$')) {
      if (first.toUpperCase() !== '$TTL') say(leftOut, `${first} is not followed`)
      continue
    }
    const rest = [...fields]
    if (!isIndented) owner = full(rest.shift()!)
    while (
      rest.length > 0 &&
      (classes.has(rest[0]!.toUpperCase()) || /^\d+[smhdw]?$/i.test(rest[0]!))
    )
      rest.shift()
    const type = (rest.shift() ?? '').toUpperCase()
    if (type === 'A' || type === 'AAAA') {
      const a = explainAddress(rest[0] ?? '')
      if (!a.ok) say(problems, a.reason)
      else if ((a.value.family === 4) !== (type === 'A'))
        say(problems, `'${rest[0]}' does not belong into a record ${type}`)
      else records.push({ line, name: owner, type, data: formatAddress(a.value) })
    } else if (type === 'PTR') records.push({ line, name: owner, type, data: full(rest[0] ?? '') })
    else if (!types.has(type))
      say(problems, type === '' ? 'a record has no type' : `'${type}' is not a type of record`)
  }
  return { records, problems, leftOut }
}

/** Entries with what stands between brackets on one line, without comments. */
function* entries(
  text: string,
  problems: LineProblem[],
): Generator<{ line: number; fields: string[]; isIndented: boolean }> {
  let open: { line: number; fields: string[]; isIndented: boolean } | undefined
  for (const [i, raw] of text.split(/\r?\n/).entries()) {
    const tokens = raw.match(/"(?:[^"\\]|\\.)*"|;.*|[()]|[^\s();"]+|"/g) ?? []
    const entry = open ?? { line: i + 1, fields: [], isIndented: /^\s/.test(raw) }
    let isOpen = open !== undefined
    for (const t of tokens) {
      if (t.startsWith(';')) break
      if (t === '"')
        problems.push({
          line: i + 1,
          column: raw.indexOf('"') + 1,
          reason: 'a quotation mark is never closed',
        })
      else if (t === '(') isOpen = true
      else if (t === ')') isOpen = false
      else entry.fields.push(t)
    }
    open = isOpen ? entry : undefined
    if (!isOpen && entry.fields.length > 0) yield entry
  }
  if (open)
    problems.push({
      line: open.line,
      column: 1,
      reason: 'a bracket opens here and is never closed',
    })
}

/**
 * Names with an IPv4 address; a reverse zone says the same of them from the other side.
 * @param fileName a zone is called by it where it does not say its own name
 */
export function zoneAddresses(text: string, fileName: string): AddressFile {
  const { records, problems, leftOut } = readZone(text, stemOf(fileName))
  const hosts = records.flatMap((r) =>
    r.type === 'A' && r.data !== '127.0.0.1'
      ? [{ line: r.line, hardwareAddress: null, name: r.name, address: r.data, typed: null }]
      : [],
  )
  const reverse = records.find((r) => r.type === 'PTR')
  const isReverse = hosts.length === 0 && reverse
  return {
    rows: [],
    hosts,
    problems,
    leftOut: [
      ...leftOut,
      ...(isReverse
        ? [
            {
              line: reverse.line,
              column: 1,
              reason: 'a reverse zone; the forward zone says the same with names',
            },
          ]
        : []),
    ],
  }
}

export const zones = defineFormat({
  id: 'zones',
  title: 'zone files (names)',
  sheet: 'addresses',
  files: 'one .zone for the domain and for each subnet',
  mediaType: 'text/plain',
  looksLike: (_, text) => /\bIN\s+(SOA|A|AAAA|PTR)\b/.test(text) || /^\$(ORIGIN|TTL)/m.test(text),
  read: (plan, text, name) => addressReading(plan, zoneAddresses(text, name)),
  write: ({ model, serial }) =>
    Object.fromEntries(
      Object.entries(writeZones(model, serial)).map(([zone, text]) => [`${zone}.zone`, text]),
    ),
  nothing: 'the site has no domain, or no address inside to serve its names from',
  judge: {
    program: 'named-checkzone',
    args: (file) => ['-q', stemOf(file), file],
    spoil: (text) => text.replace(/ SOA .*/, ' SOA nobody'),
  },
})
