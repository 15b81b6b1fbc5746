/**
 * What is on the wire already, read from what common programs leave behind: lease files (dnsmasq's,
 * ISC dhcpd's, Kea's memfile), the neighbours that `ip neigh` prints, with `-j` or without, the XML
 * of port scanners, and CSV. The kind is told from the content.
 */
import { parse, type ParseError } from 'jsonc-parser'
import { explainAddress, formatAddress } from '../addressing'
import { unreadable } from '../plan'
import type { Sighting } from '../survey'
import { columnKey, readCsv, unguardCell } from './csv'
import { normalHardwareAddress } from './equipmentCsv'
import type { LineProblem } from './format'
import { readScanXml } from './scanXml'

export interface SightingsFile {
  readonly kind:
    | 'neighbours'
    | 'dnsmasq leases'
    | 'dhcpd leases'
    | 'Kea leases'
    | 'port scan'
    | 'CSV'
    | 'nothing known'
  readonly sightings: readonly Sighting[]
  readonly problems: readonly LineProblem[]
}

export function readSightings(text: string): SightingsFile {
  const plain = text.replace(/^\uFEFF/, '')
  if (plain.trim() === '')
    return {
      kind: 'nothing known',
      sightings: [],
      problems: [{ line: 1, column: 1, reason: 'the file is empty' }],
    }
  if (/^\s*[[{]/.test(plain)) return neighbours(plain)
  if (/^\s*</.test(plain)) return portScan(plain)
  if (/^\S+\s+dev\s+\S+/m.test(plain)) return neighbourLines(plain)
  if (/^\s*lease\s+[\d.]+\s*\{/m.test(plain)) return dhcpd(plain)
  const firstLine = plain.split(/\r?\n/).find((l) => l.trim() !== '')!
  if (/^\d+\s+([0-9a-f]{2}:){5}[0-9a-f]{2}\s+\S+/i.test(firstLine) || /^duid\s/.test(firstLine))
    return dnsmasqLeases(plain)
  return table(plain)
}

/** Collects sightings; what is no address is named with its line. */
class Collector {
  readonly sightings: Sighting[] = []
  readonly problems: LineProblem[] = []
  private readonly seen = new Map<string, number>()
  /**
   * @param isJournal of leases: the last word on an address counts. Elsewhere two that answer at one
   * address are both seen.
   */
  constructor(private readonly isJournal = false) {}
  take(
    line: number,
    address: string,
    hardware: string | null,
    name: string | null,
    column = 1,
  ): void {
    const a = explainAddress(address)
    if (!a.ok) {
      this.problems.push({ line, column, reason: a.reason })
      return
    }
    const hardwareAddress = hardware ? normalHardwareAddress(hardware) : null
    if (hardware && !hardwareAddress) {
      this.problems.push({ line, column, reason: `'${hardware}' is not a hardware address` })
      return
    }
    const sighting: Sighting = {
      address: formatAddress(a.value),
      hardwareAddress: hardwareAddress ?? null,
      name: name && name !== '*' ? name : null,
      line,
    }
    const key = this.isJournal
      ? sighting.address
      : `${sighting.address} ${sighting.hardwareAddress}`
    const before = this.seen.get(key)
    if (before === undefined) {
      this.seen.set(key, this.sightings.length)
      this.sightings.push(sighting)
    } else this.sightings[before] = sighting
  }
}

function neighbours(text: string): SightingsFile {
  const found = new Collector()
  const errors: ParseError[] = []
  const not = unreadable(text)
  const list: unknown = not ? undefined : parse(text, errors, { disallowComments: true })
  if (not || errors[0]) {
    const offset = not?.offset ?? errors[0]!.offset
    const before = text.slice(0, offset)
    return {
      kind: 'neighbours',
      sightings: [],
      problems: [
        {
          line: before.split('\n').length,
          column: offset - before.lastIndexOf('\n'),
          reason: not?.reason ?? 'this is not JSON from here on',
        },
      ],
    }
  }
  const rows = Array.isArray(list) ? list : [list]
  rows.forEach((row: unknown, i) => {
    const { dst, lladdr, state } = (row ?? {}) as {
      dst?: unknown
      lladdr?: unknown
      state?: unknown
    }
    if (typeof dst !== 'string') {
      found.problems.push({ line: i + 1, column: 1, reason: `entry ${i + 1} has no 'dst'` })
      return
    }
    if (Array.isArray(state) && state.includes('FAILED')) return
    found.take(i + 1, dst, typeof lladdr === 'string' ? lladdr : null, null)
  })
  return { kind: 'neighbours', sightings: found.sightings, problems: found.problems }
}

function portScan(text: string): SightingsFile {
  const read = readScanXml(text)
  if (!read.ok)
    return {
      kind: 'port scan',
      sightings: [],
      problems: [{ line: 1, column: 1, reason: read.reason }],
    }
  const found = new Collector()
  // Which line a host is on is not told by the parser; its place in the file is.
  read.hosts.forEach((h, i) => found.take(i + 1, h.address, h.hardwareAddress, h.name))
  return { kind: 'port scan', sightings: found.sightings, problems: found.problems }
}

/** `10.0.0.5 dev eth0 lladdr 02:00:5e:10:00:01 REACHABLE`, as `ip neigh` prints. */
function neighbourLines(text: string): SightingsFile {
  const found = new Collector()
  text.split(/\r?\n/).forEach((raw, i) => {
    if (raw.trim() === '' || /\b(FAILED|INCOMPLETE)\b/.test(raw)) return
    const [, address = '', hardware] = /^(\S+)\s+dev\s+\S+(?:\s+lladdr\s+(\S+))?/.exec(raw) ?? []
    if (address) found.take(i + 1, address, hardware ?? null, null)
    else
      found.problems.push({
        line: i + 1,
        column: 1,
        reason: "expected an address, 'dev' and an interface, as ip neigh prints",
      })
  })
  return { kind: 'neighbours', sightings: found.sightings, problems: found.problems }
}

/** Seconds, hardware address, address, name or *, client id. */
function dnsmasqLeases(text: string): SightingsFile {
  const found = new Collector(true)
  text.split(/\r?\n/).forEach((raw, i) => {
    if (raw.trim() === '' || /^duid\s/.test(raw)) return
    const [time = '', hardware = '', address = '', name = ''] = raw.trim().split(/\s+/)
    if (!/^\d+$/.test(time) || address === '') {
      found.problems.push({
        line: i + 1,
        column: 1,
        reason: 'expected a time, a hardware address, an address and a name',
      })
      return
    }
    if (!address.includes(':'))
      found.take(
        i + 1,
        address,
        hardware.replace(/^[0-9a-f]{2}-/i, ''),
        name,
        raw.indexOf(address) + 1,
      )
  })
  return { kind: 'dnsmasq leases', sightings: found.sightings, problems: found.problems }
}

/** Blocks `lease 10.0.0.5 { ... }`; those that say `binding state free` are nobody's. */
function dhcpd(text: string): SightingsFile {
  const found = new Collector(true)
  let current:
    | {
        line: number
        address: string
        hardware: string | null
        name: string | null
        isFree: boolean
      }
    | undefined
  text.split(/\r?\n/).forEach((raw, i) => {
    const opened = /^\s*lease\s+(\S+)\s*\{/.exec(raw)
    if (opened) {
      current = { line: i + 1, address: opened[1]!, hardware: null, name: null, isFree: false }
      return
    }
    if (!current) return
    const hardware = /^\s*hardware\s+ethernet\s+([0-9a-f:]+);/i.exec(raw)
    if (hardware) current.hardware = hardware[1]!
    const name = /^\s*client-hostname\s+"(.*)";/.exec(raw)
    if (name) current.name = name[1]!
    if (/^\s*binding\s+state\s+(free|expired|released)/.test(raw)) current.isFree = true
    if (/^\s*\}/.test(raw)) {
      if (!current.isFree) found.take(current.line, current.address, current.hardware, current.name)
      current = undefined
    }
  })
  if (current)
    found.problems.push({ line: current.line, column: 1, reason: 'this lease is never closed' })
  return { kind: 'dhcpd leases', sightings: found.sightings, problems: found.problems }
}

const headings = {
  address: ['address', 'ip', 'ip address', 'ipv4', 'host'],
  hardware: ['hwaddr', 'mac', 'mac address', 'hardware address', 'lladdr'],
  name: ['hostname', 'name', 'host name', 'device'],
  state: ['state'],
} as const

function table(text: string): SightingsFile {
  const { records, problems } = readCsv(text)
  const [header, ...body] = records
  const found = new Collector()
  const column = (of: keyof typeof headings): number =>
    header!.cells.findIndex((c) => (headings[of] as readonly string[]).includes(columnKey(c)))
  if (!header || column('address') < 0)
    return {
      kind: 'nothing known',
      sightings: [],
      problems: [
        ...problems,
        {
          line: header?.line ?? 1,
          column: 1,
          reason:
            "neither leases nor neighbours, and as a table it has no column 'address'; known " +
            'headings are address, mac, name',
        },
      ],
    }
  const [address, hardware, name, state] = [
    column('address'),
    column('hardware'),
    column('name'),
    column('state'),
  ]
  // Kea's memfile: state 0 is a lease in use, 1 declined, 2 expired and reclaimed.
  const isKea = columnKey(header.cells[hardware] ?? '') === 'hwaddr'
  for (const r of body) {
    if (isKea && state >= 0 && !['0', ''].includes((r.cells[state] ?? '').trim())) continue
    found.take(
      r.line,
      unguardCell(r.cells[address] ?? ''),
      hardware >= 0 ? unguardCell(r.cells[hardware] ?? '') || null : null,
      name >= 0 ? unguardCell(r.cells[name] ?? '') || null : null,
      address + 1,
    )
  }
  return {
    kind: isKea ? 'Kea leases' : 'CSV',
    sightings: found.sightings,
    problems: [...problems, ...found.problems],
  }
}
