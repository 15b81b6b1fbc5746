/** The address plan as CSV: a line a segment, everything of it that concerns addresses. */
import {
  explainAddress,
  explainSpan,
  explainSubnet,
  formatAddress,
  formatPrefix,
  parsePrefix,
  type Explained,
} from '../addressing'
import { segmentPurposes, type Segment, type SitePlan } from '../plan'
import { mapColumns, readCsv, unguardCell, writeCsv } from './csv'
import type { AddressFile, SegmentFacts, SegmentRow } from './segmentRows'
import type { LineProblem } from './format'
import { addressReading } from './addressReading'
import { defineFormat } from './format'

export const addressColumns = [
  'vlan',
  'segment',
  'purpose',
  'hosts',
  'growth %',
  'subnet',
  'gateway',
  'fixed',
  'pools',
  'lease s',
  'ipv6',
  'dhcp',
  'name servers',
  'time servers',
  'routes',
  'locked',
] as const
type Column = (typeof addressColumns)[number]
const columns = {
  names: addressColumns,
  must: ['segment'],
  of: 'an address plan',
  aliases: {
    name: 'segment',
    'vlan id': 'vlan',
    id: 'vlan',
    network: 'subnet',
    prefix: 'subnet',
    pool: 'pools',
    range: 'pools',
    lease: 'lease s',
    growth: 'growth %',
    'expected hosts': 'hosts',
    dns: 'name servers',
    ntp: 'time servers',
    router: 'gateway',
  },
} as const

const spans = (list: readonly { first: string; last: string }[]): string =>
  list.map((p) => `${p.first}-${p.last}`).join('; ')

export function writeAddressCsv(plan: SitePlan): string {
  const segments = Object.values(plan.segments).sort(
    (a, b) => a.vlanId - b.vlanId || (a.id < b.id ? -1 : 1),
  )
  return writeCsv(
    addressColumns,
    segments.map((s) => [
      s.vlanId,
      s.name,
      s.purpose,
      s.expectedHosts,
      s.growthPercent,
      s.subnet,
      s.gateway,
      s.fixedBlock ? spans([s.fixedBlock]) : null,
      spans(s.pools),
      s.leaseSeconds,
      s.subnet6,
      s.dhcp.mode === 'relay' ? `relay ${s.dhcp.relayTo}` : s.dhcp.mode,
      s.options.nameServers.join('; '),
      s.options.timeServers.join('; '),
      s.options.routes.map((r) => `${r.to} via ${r.via}`).join('; '),
      s.locked ? 'yes' : 'no',
    ]),
  )
}

const list = (text: string): string[] => text.split(/[;\s]+/).filter(Boolean)

export function readAddressCsv(text: string): AddressFile {
  const { records, problems: broken } = readCsv(text)
  const [header, ...body] = records
  const empty = { rows: [], hosts: [], leftOut: [] }
  if (!header)
    return {
      ...empty,
      problems:
        broken.length > 0
          ? broken
          : [
              {
                line: 1,
                column: 1,
                reason: `the file is empty; the first line names the columns: ${addressColumns.join(', ')}`,
              },
            ],
    }
  const { mapping, problems, unknown } = mapColumns<Column>(header, columns)
  if (problems.length > 0)
    return { ...empty, problems: [...broken, ...problems, ...unknown], leftOut: unknown }
  const seen = new Map<string, number>()
  const rows = body.map((record): SegmentRow => {
    const found: LineProblem[] = []
    const cell = (c: Column): string =>
      mapping[c] < 0 ? '' : unguardCell(record.cells[mapping[c]] ?? '')
    const wrong = (c: Column, reason: string): void =>
      void found.push({ line: record.line, column: mapping[c] + 1, reason })
    const facts: { -readonly [K in keyof SegmentFacts]: SegmentFacts[K] } = {}
    const take = <T>(c: Column, read: Explained<T>): T | undefined => {
      if (read.ok) return read.value
      wrong(c, read.reason)
      return undefined
    }
    const whole = (c: Column, from: number, to: number, what: string): number | undefined => {
      const value = Number(cell(c))
      if (/^\d+$/.test(cell(c)) && value >= from && value <= to) return value
      wrong(c, `'${cell(c)}' is not ${what} from ${from} to ${to}`)
      return undefined
    }
    if (cell('segment') === '') wrong('segment', 'a name is needed')
    else if (cell('segment').length > 80) wrong('segment', 'a name has at most 80 characters')
    else facts.name = cell('segment')
    const twice = seen.get(cell('segment').toLowerCase())
    if (twice !== undefined && cell('segment'))
      wrong('segment', `'${cell('segment')}' stands in line ${twice} already`)
    seen.set(cell('segment').toLowerCase(), record.line)
    if (cell('vlan')) facts.vlanId = whole('vlan', 1, 4094, 'a VLAN id')
    if (cell('hosts')) facts.expectedHosts = whole('hosts', 1, 65_000, 'a number of hosts')
    if (cell('growth %')) {
      const g = Number(cell('growth %').replace('%', ''))
      if (g >= 0 && g <= 1000) facts.growthPercent = g
      else wrong('growth %', `'${cell('growth %')}' is not a growth from 0 to 1000 %`)
    }
    if (cell('lease s'))
      facts.leaseSeconds = whole('lease s', 120, 31_536_000, 'a lease in seconds')
    if (cell('purpose')) {
      const p = segmentPurposes.find((x) => x === cell('purpose').toLowerCase())
      if (p) facts.purpose = p
      else
        wrong(
          'purpose',
          `'${cell('purpose')}' is not a purpose; known are ${segmentPurposes.join(', ')}`,
        )
    }
    const readSubnet = cell('subnet') ? take('subnet', explainSubnet(cell('subnet'))) : undefined
    if (readSubnet && readSubnet.family === 6)
      wrong('subnet', `'${cell('subnet')}' is IPv6; it belongs into the column 'ipv6'`)
    else if (readSubnet) facts.subnet = formatPrefix(readSubnet)
    if (cell('gateway')) facts.gateway = v4('gateway')
    if (cell('fixed')) facts.fixedBlock = take('fixed', explainSpan(cell('fixed')))
    if (mapping.pools >= 0)
      facts.pools = cell('pools')
        .split(';')
        .filter((t) => t.trim())
        .flatMap((t) => take('pools', explainSpan(t)) ?? [])
    if (cell('ipv6')) {
      const p = parsePrefix(cell('ipv6'))
      if (p?.family === 6 && p.length === 64) facts.subnet6 = formatPrefix(p)
      else wrong('ipv6', `'${cell('ipv6')}' is not a /64; expected for example 2001:db8:0:120::/64`)
    }
    if (cell('dhcp')) facts.dhcp = dhcp()
    if (mapping['name servers'] >= 0 || mapping['time servers'] >= 0 || mapping.routes >= 0)
      facts.options = {
        nameServers: addresses('name servers'),
        timeServers: addresses('time servers'),
        routes: routes(),
      }
    if (cell('locked')) {
      if (/^(yes|no|true|false)$/i.test(cell('locked')))
        facts.locked = /^(yes|true)$/i.test(cell('locked'))
      else wrong('locked', `'${cell('locked')}' is neither yes nor no`)
    }

    function v4(c: Column, text = cell(c)): string | undefined {
      const a = take(c, explainAddress(text))
      if (a && a.family === 6) {
        wrong(c, `'${text}' is IPv6; an IPv4 address is expected here`)
        return undefined
      }
      return a && formatAddress(a)
    }
    function addresses(c: Column): string[] {
      return list(cell(c))
        .flatMap((t) => v4(c, t) ?? [])
        .slice(0, 4)
    }
    function routes(): Segment['options']['routes'] {
      return cell('routes')
        .split(';')
        .filter((t) => t.trim())
        .flatMap((t) => {
          const [to = '', via = ''] = t.trim().split(/\s+via\s+|\s+/)
          const network = take('routes', explainSubnet(to))
          const router = v4('routes', via)
          return network && router ? [{ to: formatPrefix(network), via: router }] : []
        })
    }
    function dhcp(): Segment['dhcp'] | undefined {
      const [mode = '', to = ''] = cell('dhcp').toLowerCase().split(/\s+/)
      if (mode === 'server' || mode === 'off') return { mode, relayTo: null }
      if (mode === 'relay') {
        const relayTo = v4('dhcp', to)
        return relayTo ? { mode, relayTo } : undefined
      }
      wrong('dhcp', `'${cell('dhcp')}' is none of server, off and relay with an address`)
      return undefined
    }
    for (const k of Object.keys(facts) as (keyof typeof facts)[])
      if (facts[k] === undefined) delete facts[k]
    return {
      line: record.line,
      text: record.cells.join(', '),
      facts: found.length > 0 ? null : facts,
      problems: found,
    }
  })
  return {
    rows,
    hosts: [],
    leftOut: unknown,
    problems: [...broken, ...rows.flatMap((r) => r.problems)],
  }
}

export const addressCsv = defineFormat({
  id: 'address-csv',
  title: 'Address plan (CSV)',
  sheet: 'addresses',
  files: 'addresses.csv',
  mediaType: 'text/csv',
  looksLike: () => true,
  read: (plan, text) => addressReading(plan, readAddressCsv(text)),
  write: ({ model }) => ({ 'addresses.csv': writeAddressCsv(model.plan) }),
})
