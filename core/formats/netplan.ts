/**
 * Addresses of Linux hosts as netplan YAML (its reference, network version 2), written and read.
 */
import {
  LineCounter,
  parseDocument,
  stringify,
  type Pair,
  type Scalar,
  type YAMLMap,
  isMap,
  isScalar,
  isSeq,
  visit,
} from 'yaml'
import { explainAddress, formatAddress, parsePrefix, prefix } from '../addressing'
import type { Device } from '../plan'
import type { SiteModel } from '../topology'
import { leaseFactsOf } from './leaseOptions'
import type { LineProblem } from './format'
import { addressReading, stemOf } from './addressReading'
import { defineFormat } from './format'
import type { AddressFile } from './segmentRows'

/**
 * Hosts that run Linux on a cable, by a file name each; cameras, terminals and the like are set by
 * their own page.
 */
export function writeNetplan(model: SiteModel): Record<string, string> {
  const files: Record<string, string> = {}
  for (const d of model.devices) {
    const { kind, system, air } = model.profileOf(d.id)
    if (
      (kind === 'host' || kind === 'controller') &&
      system === 'linux' &&
      air.length === 0 &&
      d.addressing.segmentId
    )
      files[`${d.id}.yaml`] = netplanOf(model, d)
  }
  return files
}

export function netplanOf(model: SiteModel, d: Device): string {
  const s = d.addressing.segmentId ? model.plan.segments[d.addressing.segmentId] : undefined
  const [port] = model.profileOf(d.id).ports
  const isFixed = d.addressing.mode === 'fixed' && d.addressing.address !== null && s?.subnet
  const facts = s ? leaseFactsOf(model, s) : undefined
  const nic: Record<string, unknown> = {
    ...(d.hardwareAddress
      ? { match: { macaddress: d.hardwareAddress }, 'set-name': port!.name }
      : {}),
    ...(isFixed
      ? {
          dhcp4: false,
          addresses: [`${d.addressing.address}/${prefix(s.subnet!).length}`],
          routes: [
            ...(d.addressing.gateway ? [{ to: 'default', via: d.addressing.gateway }] : []),
            ...s.options.routes,
          ],
          nameservers: {
            addresses: [...facts!.nameServers],
            ...(facts!.domain ? { search: [facts!.domain] } : {}),
          },
        }
      : { dhcp4: true }),
  }
  return stringify({ network: { version: 2, ethernets: { [port!.name]: nic } } })
}

export interface NetplanAddress {
  readonly line: number
  readonly interfaceName: string
  readonly hardwareAddress: string | null
  readonly address: string
  readonly length: number
  readonly gateway: string | null
}
export interface NetplanFile {
  readonly addresses: readonly NetplanAddress[]
  readonly problems: readonly LineProblem[]
}

export function readNetplan(text: string): NetplanFile {
  try {
    return readDocument(text)
  } catch (error) {
    // What is nested a thousand times over is nobody's network, and more than the parser's stack.
    if (!(error instanceof RangeError)) throw error
    return {
      addresses: [],
      problems: [{ line: 1, column: 1, reason: 'it is nested too deeply to be read' }],
    }
  }
}

function readDocument(text: string): NetplanFile {
  const counter = new LineCounter()
  const problems: LineProblem[] = []
  const document = parseDocument(text, { lineCounter: counter })
  const at = (offset: number): { line: number; column: number } => {
    const p = counter.linePos(offset)
    return { line: p.line, column: p.col }
  }
  // An alias may stand for aliases: what a few lines then mean has no end.
  visit(document, {
    Alias(_, node) {
      problems.push({ ...at(node.range?.[0] ?? 0), reason: 'aliases are not read; write it out' })
      return visit.BREAK
    },
  })
  for (const e of document.errors)
    problems.push({
      ...at(e.pos[0]),
      reason: `not YAML: ${e.message.split('\n')[0]!.replace(/ at line.*$/, '')}`,
    })
  const ethernets = document.getIn(['network', 'ethernets'])
  if (problems.length > 0) return { addresses: [], problems }
  if (!isMap(ethernets))
    return {
      addresses: [],
      problems: [{ line: 1, column: 1, reason: "there is no 'network' with 'ethernets' in it" }],
    }
  const addresses: NetplanAddress[] = []
  for (const pair of ethernets.items as Pair<Scalar<string>, YAMLMap>[]) {
    const nic = pair.value
    if (!isMap(nic)) continue
    const list = nic.get('addresses', true)
    const hardware = nic.getIn(['match', 'macaddress'])
    const routes = nic.get('routes', true)
    const via = isSeq(routes)
      ? routes.items.flatMap((r) =>
          isMap(r) && ['default', '0.0.0.0/0'].includes(String(r.get('to')))
            ? [String(r.get('via'))]
            : [],
        )[0]
      : undefined
    for (const item of isSeq(list) ? list.items : []) {
      const scalar = isMap(item) ? item.items[0]?.key : item
      if (!isScalar(scalar)) continue
      const value = String(scalar.value)
      const [base = '', length = ''] = value.split('/')
      const a = explainAddress(base)
      if (!a.ok) problems.push({ ...at(scalar.range?.[0] ?? 0), reason: a.reason })
      else if (
        !parsePrefix(`${base}/${a.value.family === 4 ? 32 : 128}`) ||
        !/^\d+$/.test(length) ||
        Number(length) > (a.value.family === 4 ? 32 : 128)
      )
        problems.push({
          ...at(scalar.range?.[0] ?? 0),
          reason: `'${value}' has no length that fits; expected for example 10.20.30.5/24`,
        })
      else
        addresses.push({
          line: at(scalar.range?.[0] ?? 0).line,
          interfaceName: String(pair.key.value),
          hardwareAddress: typeof hardware === 'string' ? hardware.toLowerCase() : null,
          address: formatAddress(a.value),
          length: Number(length),
          gateway: via ?? null,
        })
    }
  }
  return { addresses, problems }
}

/**
 * One file is one host, known by the hardware address that it matches, else by the name of the
 * file.
 */
export function netplanAddresses(text: string, fileName: string): AddressFile {
  const { addresses, problems } = readNetplan(text)
  const hosts = addresses
    .filter((a) => !a.address.includes(':'))
    .map((a) => ({
      line: a.line,
      hardwareAddress: a.hardwareAddress,
      name: stemOf(fileName),
      address: a.address,
      typed: { gateway: a.gateway },
    }))
  return { rows: [], hosts, problems, leftOut: [] }
}

export const netplan = defineFormat({
  id: 'netplan',
  title: 'netplan (hosts)',
  sheet: 'addresses',
  files: 'one .yaml for each Linux host on a cable',
  mediaType: 'application/yaml',
  looksLike: (name, text) => /\.ya?ml$/i.test(name) || /^\s*network:/m.test(text),
  read: (plan, text, name) => addressReading(plan, netplanAddresses(text, name)),
  write: ({ model }) => writeNetplan(model),
  nothing: 'no host of the plan runs Linux and has a cable and a segment',
  judge: {
    program: 'netplan',
    at: 'etc/netplan',
    args: (_, root) => ['generate', '--root-dir', root],
    spoil: (text) => `${text}  ethernets: nothing\n`,
  },
})
