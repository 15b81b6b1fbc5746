/** DHCP and names as a dnsmasq configuration (its manual page, version 2.89), written and read. */
import {
  explainAddress,
  explainSubnet,
  formatAddress,
  formatPrefix,
  hexOf,
  OPTION,
  prefix,
  prefixAround,
  maskOf,
  type Explained,
} from '../addressing'
import { controllerAddress } from '../adoption'
import type { Segment } from '../plan'
import type { SiteModel } from '../topology'
import { normalHardwareAddress } from './equipmentCsv'
import { leaseFactsOf, leaseOptionsOf, reservationsOf } from './leaseOptions'
import { filesByServer, leaseServersOf, type LeaseServer } from './leaseServers'
import { CONTROLLER_NAME, hostLabel, hostNames, nameServersOf } from '../naming'
import type { AddressFile, HostFact, SegmentFacts, SegmentRow } from './segmentRows'
import type { LineProblem } from './format'
import { addressReading } from './addressReading'
import { defineFormat } from './format'

const colons = (hex: string): string => hex.match(/../g)!.join(':')

/**
 * For every server that hands out leases a file by name, and always one for the gateway, which
 * answers for names and passes requests on.
 */
export const writeDnsmasqFiles = (model: SiteModel): Record<string, string> =>
  filesByServer(
    model,
    (suffix) => `dnsmasq${suffix}.conf`,
    (server) => writeDnsmasq(model, server),
    true,
  )

/**
 * Ready to be run on the gateway, or on a server that it passes requests on to. It listens on the
 * addresses inside alone, answers for the site's names
 * and the controller's, and asks the name servers of the line for others; where the plan knows
 * none, those of /etc/resolv.conf.
 */
export function writeDnsmasq(
  model: SiteModel,
  server: LeaseServer = leaseServersOf(model)[0]!,
): string {
  const { domain } = model.plan.site
  const gateways = model.segments.flatMap((s) => s.gateway ?? [])
  const own = server.address ? [server.address] : gateways
  const answersNames = model.segments.some((s) => nameServersOf(s).some((a) => own.includes(a)))
  const upstream = [...new Set(model.lines.flatMap((u) => u.handOff.nameServers))]
  const lines = [
    `# DHCP and names of the site, for ${server.name.replace(/[\r\n]+/g, ' ')}. Written from ` +
      'its plan; change the plan, not this file.',
    'bind-dynamic',
    ...['127.0.0.1', ...own].map((a) => `listen-address=${a}`),
    'dhcp-authoritative',
  ]
  if (!answersNames) lines.push('port=0')
  else
    lines.push(
      'domain-needed',
      'bogus-priv',
      ...(upstream.length > 0 ? ['no-resolv', ...upstream.map((a) => `server=${a}`)] : []),
    )
  if (domain)
    lines.push(`domain=${domain}`, ...(answersNames ? [`local=/${domain}/`, 'expand-hosts'] : []))
  if (!server.address)
    for (const s of model.segments)
      if (s.dhcp.mode === 'relay' && s.dhcp.relayTo && s.gateway)
        lines.push(`dhcp-relay=${s.gateway},${s.dhcp.relayTo}`)
  for (const s of server.segments) {
    if (!s.subnet) continue
    const tag = `v${s.vlanId}`
    const facts = leaseFactsOf(model, s)
    const raw = new Map(leaseOptionsOf(model, s).map((o) => [o.code, o]))
    lines.push(
      '',
      `# segment ${s.name.replace(/[\r\n]+/g, ' ')}`,
      ...(server.address ? [`# relayed to ${server.address}`] : []),
    )
    for (const p of s.pools)
      lines.push(
        `dhcp-range=set:${tag},${p.first},${p.last},${maskOf(prefix(s.subnet).length)},${s.leaseSeconds}`,
      )
    if (s.pools.length === 0)
      lines.push(
        `dhcp-range=set:${tag},${s.subnet.split('/')[0]},static,${maskOf(prefix(s.subnet).length)},${s.leaseSeconds}`,
      )
    if (s.gateway) lines.push(`dhcp-option=tag:${tag},option:router,${s.gateway}`)
    if (facts.nameServers.length > 0)
      lines.push(`dhcp-option=tag:${tag},option:dns-server,${facts.nameServers.join(',')}`)
    if (s.options.timeServers.length > 0)
      lines.push(`dhcp-option=tag:${tag},option:ntp-server,${s.options.timeServers.join(',')}`)
    if (s.options.routes.length > 0)
      lines.push(
        `dhcp-option=tag:${tag},option:classless-static-route,` +
          [...s.options.routes, ...(s.gateway ? [{ to: '0.0.0.0/0', via: s.gateway }] : [])]
            .map((r) => `${r.to},${r.via}`)
            .join(','),
      )
    if (facts.domain) lines.push(`dhcp-option=tag:${tag},option:domain-search,${facts.domain}`)
    for (const code of [OPTION.vendor, OPTION.accessControllers, OPTION.bootstrap]) {
      const o = raw.get(code)
      if (o)
        lines.push(
          `dhcp-option=tag:${tag},${code},${code === OPTION.accessControllers ? o.says : colons(hexOf(o.content))}`,
        )
    }
    for (const r of reservationsOf(model, s.id))
      lines.push(`dhcp-host=${r.hardwareAddress},${r.address},${hostLabel(r.name)}`)
  }
  const controller = controllerAddress(model)
  if (answersNames)
    lines.push(
      '',
      '# names',
      ...(controller
        ? [`local=/${CONTROLLER_NAME}/`, `host-record=${CONTROLLER_NAME},${controller}`]
        : []),
      ...(domain
        ? hostNames(model).map((n) => `host-record=${n.label}.${domain},${n.address}`)
        : []),
    )
  return `${lines.join('\n')}\n`
}

/** Lines that say nothing of addresses. */
const aside =
  /^(bind-dynamic|listen-address|dhcp-relay|no-resolv|dhcp-authoritative|domain|local|expand-hosts|host-record|interface|bind-interfaces|server|log-dhcp|port|bogus-priv|domain-needed|cache-size)\b/

export function readDnsmasq(text: string): AddressFile {
  const segments = new Map<
    string,
    {
      line: number
      text: string
      facts: { -readonly [K in keyof SegmentFacts]: SegmentFacts[K] }
      problems: LineProblem[]
    }
  >()
  const hosts: HostFact[] = []
  const problems: LineProblem[] = []
  const leftOut: LineProblem[] = []
  let heading: string | undefined
  let relayedTo: string | undefined
  text.split(/\r?\n/).forEach((raw, i) => {
    const line = i + 1
    const named = /^#\s*segment\s+(.+)$/.exec(raw.trim())
    if (named) {
      heading = named[1]!.slice(0, 80)
      relayedTo = undefined
    }
    relayedTo = /^#\s*relayed to (\S+)$/.exec(raw.trim())?.[1] ?? relayedTo
    const plain = raw.replace(/(^|\s)#.*$/, '').trim()
    if (plain === '' || aside.test(plain)) return
    const [key = '', rest = ''] = plain.split(/=(.*)/s)
    const parts = rest.split(',').map((p) => p.trim())
    const column = raw.indexOf(rest) + 1
    const tags = parts.filter((p) => /^(set|tag):/.test(p)).map((p) => p.slice(4))
    const values = parts.filter((p) => !/^(set|tag):/.test(p))
    const say = (reason: string, list = problems): void =>
      void list.push({ line, column: Math.max(1, column), reason })
    const take = <T>(e: Explained<T>): T | undefined => {
      if (e.ok) return e.value
      say(e.reason, own?.problems ?? problems)
      return undefined
    }
    const tag = tags[0] ?? `line ${line}`
    let own = segments.get(tag)
    if (key === 'dhcp-range') {
      const [first = '', last = '', mask = '', lease] = values
      const isStatic = last === 'static'
      if (first.includes(':')) {
        say('IPv6 ranges are not read', leftOut)
        return
      }
      own ??= {
        line,
        text: plain,
        facts: {
          name: heading ?? tag,
          pools: [],
          options: { nameServers: [], timeServers: [], routes: [] },
          dhcp: relayedTo
            ? { mode: 'relay', relayTo: relayedTo }
            : { mode: 'server', relayTo: null },
        },
        problems: [],
      }
      segments.set(tag, own)
      const vlan = /^v(\d{1,4})$/.exec(tag)
      if (vlan) own.facts.vlanId = Number(vlan[1])
      const [a, b] = [
        take(explainAddress(first)),
        isStatic ? undefined : take(explainAddress(last)),
      ]
      const network = a && mask.includes('.') ? take(explainMasked(a.value, mask)) : undefined
      if (network) own.facts.subnet = network
      else if (!mask.includes('.'))
        say('the range has no mask, so its subnet is not known', own.problems)
      if (a && b)
        own.facts.pools = [...own.facts.pools!, { first: formatAddress(a), last: formatAddress(b) }]
      const seconds = leaseSeconds(mask.includes('.') ? lease : mask)
      if (seconds !== undefined) own.facts.leaseSeconds = seconds
      return
    }
    if (key === 'dhcp-host') {
      const hardwareAddress = values
        .map((v) => normalHardwareAddress(v))
        .find((v) => typeof v === 'string')
      const address = values.find((v) => /^\d+\.\d+\.\d+\.\d+$/.test(v))
      const name =
        values.find(
          (v) =>
            normalHardwareAddress(v) === undefined &&
            v !== address &&
            !/^(\d+[smhdw]?|infinite|ignore)$/.test(v),
        ) ?? null
      const read = address === undefined ? undefined : take(explainAddress(address))
      if (!hardwareAddress)
        say('a dhcp-host without a hardware address cannot be matched to a device', leftOut)
      else if (address === undefined || read)
        hosts.push({
          line,
          hardwareAddress,
          address: read ? formatAddress(read) : null,
          name,
          typed: null,
        })
      return
    }
    if (key === 'dhcp-option') {
      if (!own) {
        say(`no dhcp-range before this sets the tag '${tag}'`, leftOut)
        return
      }
      const [what = '', ...data] = values
      const addresses = (): string[] =>
        data.flatMap((t) => {
          const a = take(explainAddress(t))
          return a ? [formatAddress(a)] : []
        })
      const options = own.facts.options!
      if (what === 'option:router' || what === String(OPTION.router))
        own.facts.gateway = addresses()[0]
      else if (what === 'option:dns-server' || what === String(OPTION.nameServers))
        own.facts.options = { ...options, nameServers: addresses().slice(0, 4) }
      else if (what === 'option:ntp-server' || what === String(OPTION.timeServers))
        own.facts.options = { ...options, timeServers: addresses().slice(0, 4) }
      else if (what === 'option:classless-static-route' || what === String(OPTION.routes))
        own.facts.options = { ...options, routes: pairs(data, take) }
      else if (
        what !== 'option:domain-search' &&
        ![OPTION.vendor, OPTION.accessControllers, OPTION.bootstrap].map(String).includes(what)
      )
        say(`${what} has no place in a plan`, leftOut)
      return
    }
    say(`'${key}' has no place in a plan`, leftOut)
  })
  const rows = [...segments.values()].map(({ line, text: t, facts, problems: own }): SegmentRow => {
    const options = facts.options!
    const nameServers =
      options.nameServers.length === 1 && options.nameServers[0] === facts.gateway
        ? []
        : options.nameServers
    for (const k of Object.keys(facts) as (keyof typeof facts)[])
      if (facts[k] === undefined) delete facts[k]
    return {
      line,
      text: t,
      facts: own.length > 0 ? null : { ...facts, options: { ...options, nameServers } },
      problems: own,
    }
  })
  return { rows, hosts, leftOut, problems: [...problems, ...rows.flatMap((r) => r.problems)] }
}

function explainMasked(value: bigint, mask: string): Explained<string> {
  for (let length = 8; length <= 32; length++)
    if (maskOf(length) === mask)
      return { ok: true, value: formatPrefix(prefixAround({ family: 4, value }, length)) }
  return { ok: false, reason: `'${mask}' is not a mask: its ones are not in one run from the left` }
}
function leaseSeconds(text: string | undefined): number | undefined {
  const m = /^(\d+)([smhdw]?)$/.exec(text ?? '')
  if (!m) return undefined
  const seconds =
    Number(m[1]) *
    ({ '': 1, s: 1, m: 60, h: 3600, d: 86_400, w: 604_800 } as Record<string, number>)[m[2]!]!
  return Math.min(31_536_000, Math.max(120, seconds))
}
function pairs(
  data: readonly string[],
  take: <T>(e: Explained<T>) => T | undefined,
): Segment['options']['routes'] {
  const out: { to: string; via: string }[] = []
  for (let i = 0; i + 1 < data.length; i += 2) {
    if (data[i] === '0.0.0.0/0') continue
    const to = take(explainSubnet(data[i]!))
    const via = take(explainAddress(data[i + 1]!))
    if (to && via) out.push({ to: formatPrefix(to), via: formatAddress(via) })
  }
  return out
}

export const dnsmasq = defineFormat({
  id: 'dnsmasq',
  title: 'dnsmasq (DHCP and names)',
  sheet: 'addresses',
  files: 'dnsmasq.conf, one for each server',
  mediaType: 'text/plain',
  looksLike: (_, text) => /^\s*dhcp-(range|host|option)=/m.test(text),
  read: (plan, text) => addressReading(plan, readDnsmasq(text)),
  write: ({ model }) => writeDnsmasqFiles(model),
  judge: {
    program: 'dnsmasq',
    args: (file) => ['--test', `--conf-file=${file}`],
    spoil: (text) => `${text}dhcp-range=nowhere\n`,
  },
})
