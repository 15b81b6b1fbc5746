/**
 * DHCP as a Kea configuration (its JSON, Kea 2.2 administrator reference manual, chapter 8),
 * written and read.
 */
import { findNodeAtLocation, parseTree, type Node, type ParseError } from 'jsonc-parser'
import {
  explainAddress,
  explainSpan,
  explainSubnet,
  formatAddress,
  formatPrefix,
  hexOf,
  OPTION,
  rebindSeconds,
  renewSeconds,
  type Explained,
} from '../addressing'
import { positions, unreadable, withoutMark, type Segment } from '../plan'
import type { SiteModel } from '../topology'
import { normalHardwareAddress } from './equipmentCsv'
import { filesByServer, leaseServersOf, type LeaseServer } from './leaseServers'
import { leaseFactsOf, leaseOptionsOf, reservationsOf } from './leaseOptions'
import { hostLabel } from '../naming'
import type { AddressFile, HostFact, SegmentFacts, SegmentRow } from './segmentRows'
import type { LineProblem } from './format'
import { addressReading } from './addressReading'
import { defineFormat } from './format'

interface OptionData {
  name?: string
  code?: number
  space?: string
  'csv-format'?: boolean
  data: string
}

/** For every server that hands out leases a file by name. */
export const writeKeaFiles = (model: SiteModel): Record<string, string> =>
  filesByServer(
    model,
    (suffix) => `kea-dhcp4${suffix}.conf`,
    (server) => writeKea(model, server),
    false,
  )

/**
 * Ready to be run: it listens wherever it has a subnet to give, keeps its leases over a restart,
 * and says no to whoever asks for an address of elsewhere. A server
 * that requests are passed on to listens for those alone.
 */
export function writeKea(
  model: SiteModel,
  server: LeaseServer = leaseServersOf(model)[0]!,
): string {
  const subnet4 = server.segments.map((s) => {
    const facts = leaseFactsOf(model, s)
    const raw = new Map(leaseOptionsOf(model, s).map((o) => [o.code, o]))
    const options: OptionData[] = []
    if (s.gateway) options.push({ name: 'routers', data: s.gateway })
    if (facts.nameServers.length > 0)
      options.push({ name: 'domain-name-servers', data: facts.nameServers.join(', ') })
    if (facts.domain)
      options.push(
        { name: 'domain-name', data: facts.domain },
        { name: 'domain-search', data: facts.domain },
      )
    if (s.options.timeServers.length > 0)
      options.push({ name: 'ntp-servers', data: s.options.timeServers.join(', ') })
    // What Kea knows no words for goes octet for octet.
    for (const code of [OPTION.vendor, OPTION.routes, OPTION.accessControllers, OPTION.bootstrap]) {
      const option = raw.get(code)
      if (option)
        options.push({
          code: code,
          space: 'dhcp4',
          'csv-format': false,
          data: hexOf(option.content),
        })
    }
    return {
      id: s.vlanId,
      subnet: s.subnet,
      pools: s.pools.map((p) => ({ pool: `${p.first} - ${p.last}` })),
      'valid-lifetime': s.leaseSeconds,
      'renew-timer': renewSeconds(s.leaseSeconds),
      'rebind-timer': rebindSeconds(s.leaseSeconds),
      'option-data': options,
      ...(s.dhcp.mode === 'relay' && s.gateway ? { relay: { 'ip-addresses': [s.gateway] } } : {}),
      reservations: reservationsOf(model, s.id).map((r) => ({
        'hw-address': r.hardwareAddress,
        'ip-address': r.address,
        hostname: hostLabel(r.name),
      })),
      'user-context': { segment: s.name, ...(server.address ? { relayedTo: server.address } : {}) },
    }
  })
  return `${JSON.stringify(
    {
      Dhcp4: {
        'interfaces-config': {
          interfaces: ['*'],
          're-detect': true,
          ...(server.address ? { 'dhcp-socket-type': 'udp' } : {}),
        },
        'lease-database': { type: 'memfile', persist: true },
        authoritative: true,
        'valid-lifetime': 86_400,
        subnet4,
      },
    },
    null,
    2,
  )}\n`
}

/**
 * Reads subnets, pools, lifetimes, the usual options and reservations; says by line what it cannot
 * use. Comments are allowed, as Kea allows them.
 */
export function readKea(given: string): AddressFile {
  const text = withoutMark(given)
  const at = positions(text)
  const none = { rows: [], hosts: [], leftOut: [] }
  const not = unreadable(text)
  if (not) return { ...none, problems: [{ ...at(not.offset), reason: not.reason }] }
  const errors: ParseError[] = []
  const root = parseTree(text, errors, { allowTrailingComma: false })
  if (errors[0] || !root)
    return {
      ...none,
      problems: [
        {
          ...at(errors[0]?.offset ?? 0),
          reason: text.trim() === '' ? 'the file is empty' : 'this is not JSON from here on',
        },
      ],
    }
  const dhcp4 = findNodeAtLocation(root, ['Dhcp4'])
  const list = dhcp4 && findNodeAtLocation(dhcp4, ['subnet4'])
  if (list?.type !== 'array')
    return {
      ...none,
      problems: [{ ...at(root.offset), reason: "there is no 'Dhcp4' with a list 'subnet4' in it" }],
    }
  const leftOut: LineProblem[] = []
  const hosts: HostFact[] = []
  const globalLifetime = numberOf(findNodeAtLocation(dhcp4!, ['valid-lifetime']))
  const rows = (list.children ?? []).map((node): SegmentRow => {
    const problems: LineProblem[] = []
    const child = (key: string): Node | undefined => findNodeAtLocation(node, [key])
    const wrong = (n: Node, reason: string): void => void problems.push({ ...at(n.offset), reason })
    const take = <T>(n: Node, e: Explained<T>): T | undefined => {
      if (e.ok) return e.value
      wrong(n, e.reason)
      return undefined
    }
    // Who passes requests on says nothing of where to, so that stays as it is unless the file is
    // one of ours.
    const relayedTo =
      child('user-context') && stringOf(findNodeAtLocation(node, ['user-context', 'relayedTo']))
    const relayed = relayedTo ? take(child('user-context')!, explainAddress(relayedTo)) : undefined
    const facts: { -readonly [K in keyof SegmentFacts]: SegmentFacts[K] } = relayed
      ? { dhcp: { mode: 'relay', relayTo: formatAddress(relayed) } }
      : child('relay')
        ? {}
        : { dhcp: { mode: 'server', relayTo: null } }
    const subnet = child('subnet')
    const read = subnet && take(subnet, explainSubnet(String(subnet.value)))
    if (!subnet) wrong(node, "a subnet has no 'subnet'")
    else if (read) facts.subnet = formatPrefix(read)
    const id = numberOf(child('id'))
    if (id !== undefined && Number.isInteger(id) && id >= 1 && id <= 4094) facts.vlanId = id
    const named =
      child('user-context') && stringOf(findNodeAtLocation(node, ['user-context', 'segment']))
    if (named) facts.name = named.slice(0, 80)
    const lifetime = numberOf(child('valid-lifetime')) ?? globalLifetime
    if (lifetime !== undefined) {
      if (lifetime >= 120 && lifetime <= 31_536_000) facts.leaseSeconds = lifetime
      else
        wrong(
          child('valid-lifetime') ?? node,
          `a lease of ${lifetime} s is not between 120 s and a year`,
        )
    }
    const pools = child('pools')?.children ?? []
    facts.pools = pools.flatMap((p) => {
      const n = findNodeAtLocation(p, ['pool'])
      return n ? (take(n, explainPool(String(n.value))) ?? []) : []
    })
    const options: {
      nameServers: string[]
      timeServers: string[]
      routes: Segment['options']['routes']
    } = { nameServers: [], timeServers: [], routes: [] }
    for (const o of child('option-data')?.children ?? []) {
      const name = stringOf(findNodeAtLocation(o, ['name']))
      const code = numberOf(findNodeAtLocation(o, ['code']))
      const data = findNodeAtLocation(o, ['data'])
      if (!data) continue
      const addresses = (): string[] =>
        String(data.value)
          .split(',')
          .flatMap((t) => {
            const a = take(data, explainAddress(t))
            return a ? [formatAddress(a)] : []
          })
      if (name === 'routers' || code === OPTION.router) facts.gateway = addresses()[0]
      else if (name === 'domain-name-servers' || code === OPTION.nameServers)
        options.nameServers = addresses().slice(0, 4)
      else if (name === 'ntp-servers' || code === OPTION.timeServers)
        options.timeServers = addresses().slice(0, 4)
      else if (code === OPTION.routes) options.routes = routesFromHex(String(data.value))
      else if (
        name !== 'domain-name' &&
        name !== 'domain-search' &&
        code !== OPTION.vendor &&
        code !== OPTION.accessControllers &&
        code !== OPTION.bootstrap &&
        code !== OPTION.search
      )
        leftOut.push({ ...at(o.offset), reason: `option ${name ?? code} has no place in a plan` })
    }
    // The gateway as only name server, and the default route beside others, are what a plan says by
    // saying nothing.
    if (options.nameServers.length === 1 && options.nameServers[0] === facts.gateway)
      options.nameServers = []
    options.routes = options.routes.filter((r) => r.to !== '0.0.0.0/0')
    facts.options = options
    for (const r of child('reservations')?.children ?? []) {
      const hw = findNodeAtLocation(r, ['hw-address'])
      const ip = findNodeAtLocation(r, ['ip-address'])
      const hardwareAddress = hw ? normalHardwareAddress(String(hw.value)) : null
      if (!hardwareAddress) {
        leftOut.push({
          ...at(r.offset),
          reason: 'a reservation without a hardware address cannot be matched to a device',
        })
        continue
      }
      const address = ip ? take(ip, explainAddress(String(ip.value))) : undefined
      hosts.push({
        line: at(r.offset).line,
        hardwareAddress,
        address: address ? formatAddress(address) : null,
        name: stringOf(findNodeAtLocation(r, ['hostname'])) ?? null,
        typed: null,
      })
    }
    for (const k of Object.keys(facts) as (keyof typeof facts)[])
      if (facts[k] === undefined) delete facts[k]
    return {
      line: at(node.offset).line,
      text: text.slice(node.offset, node.offset + 60).replace(/\s+/g, ' '),
      facts: problems.length > 0 ? null : facts,
      problems,
    }
  })
  return { rows, hosts, leftOut, problems: rows.flatMap((r) => r.problems) }
}

const stringOf = (n: Node | undefined): string | undefined =>
  n?.type === 'string' ? (n.value as string) : undefined
const numberOf = (n: Node | undefined): number | undefined =>
  n?.type === 'number' ? (n.value as number) : undefined
/** A pool is a span, or a prefix that is handed out whole. */
function explainPool(text: string): Explained<{ first: string; last: string }> {
  if (!text.includes('/')) return explainSpan(text)
  const p = explainSubnet(text)
  if (!p.ok) return p
  const size = 1n << BigInt(32 - p.value.length)
  return {
    ok: true,
    value: {
      first: formatAddress({ family: 4, value: p.value.network }),
      last: formatAddress({ family: 4, value: p.value.network + size - 1n }),
    },
  }
}

/** Option 121 back from its octets (RFC 3442); what is cut off is left out. */
export function routesFromHex(hex: string): { to: string; via: string }[] {
  const octets = (hex.replace(/[:\s]/g, '').match(/../g) ?? []).map((o) => parseInt(o, 16))
  const out: { to: string; via: string }[] = []
  for (let i = 0; i < octets.length;) {
    const length = octets[i++]!
    const significant = Math.ceil(length / 8)
    if (length > 32 || i + significant + 4 > octets.length) break
    const to = [...octets.slice(i, i + significant), 0, 0, 0, 0].slice(0, 4).join('.')
    out.push({
      to: `${to}/${length}`,
      via: octets.slice(i + significant, i + significant + 4).join('.'),
    })
    i += significant + 4
  }
  return out
}

export const kea = defineFormat({
  id: 'kea',
  title: 'Kea (DHCP), JSON',
  sheet: 'addresses',
  files: 'kea-dhcp4.conf, one for each server',
  mediaType: 'application/json',
  looksLike: (_, text) => /"Dhcp4"/.test(text),
  read: (plan, text) => addressReading(plan, readKea(text)),
  write: ({ model }) => writeKeaFiles(model),
  judge: {
    program: 'kea-dhcp4',
    args: (file) => ['-t', file],
    spoil: (text) => text.replace('"Dhcp4"', '"Dhcp4": nothing, "Dhcp4"'),
  },
})
