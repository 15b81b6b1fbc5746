/**
 * The rules of a site for a Linux gateway, as an nftables script (nft(8)): one table for both
 * families, with a chain for each interface that connections come
 * from. Loading it replaces our own table in one step, and touches no other.
 */
import {
  inPlan,
  own as ownOf,
  lineMtuOf,
  portsInWords,
  tunnelInterface,
  uplinksInOrder,
  ANYWHERE,
  type LineChoice,
  WEEK_MINUTES,
  weekSpans,
  type Hours,
  type SitePlan,
  type Uplink,
} from '../plan'
import {
  compilePolicy,
  isFamily,
  LINE,
  prefixesOf,
  providerZones,
  segmentSizeOf,
  type AddressList,
  type Family,
  type Origin,
  type Rule,
  type RuleSet,
  type Zone,
} from '../policy'
import { siteModel } from '../topology'
import { reckonedTunnels } from '../tunnels/reckoned'
import { marksOf } from '../uplinks'
import { defineFormat } from './format'

export interface InterfaceNames {
  /** The interface that a segment or a tunnel has on the gateway; at most 15 characters (IFNAMSIZ). */
  segment(segmentId: string): string
  /** Those of the lines, in their order. */
  readonly lines: readonly string[]
}

/** Without one, what it takes to be given one later. */
const linesOf = (plan: SitePlan): readonly (Uplink | undefined)[] => {
  const lines = uplinksInOrder(plan)
  return lines.length > 0 ? lines : [undefined]
}

/** VLAN interfaces by number, as is usual on Linux. */
export const vlanInterfaces = (plan: SitePlan): InterfaceNames => ({
  segment: (id) =>
    Object.hasOwn(plan.tunnels, id)
      ? tunnelInterface(plan, id)
      : `vlan${inPlan(plan.segments, id).vlanId}`,
  lines: linesOf(plan).map((_, n) => `line${n}`),
})

/** Of protocols whose names not every nft knows (IANA protocol numbers). */
const numbers: Partial<Record<Rule['protocol'], number>> = { ospf: 89 }
/** Comments end after 128 octets in nft. */
const MOST_COMMENT = 120
const quote = (text: string): string =>
  `"${text.replace(/[^\x20-\x7e]|["\\]/g, ' ').slice(0, MOST_COMMENT)}"`
const group = (list: readonly string[]): string =>
  list.length === 1 ? list[0]! : `{ ${list.join(', ')} }`
const wordOf: Readonly<Record<Family, string>> = { ipv4: 'ip', ipv6: 'ip6' }
const prefixesIn = (texts: readonly string[], family: Family): string[] =>
  texts.filter((t) => isFamily(prefixesOf([t])[0]!, family))

/** ICMPv6 types by what they are for (RFC 4890 4.3.1, 4.4.1). */
const icmpv6 = {
  'icmpv6-errors':
    'icmpv6 type { destination-unreachable, packet-too-big, time-exceeded, parameter-problem }',
  'icmpv6-neighbours':
    'icmpv6 type { nd-router-solicit, nd-neighbor-solicit, nd-neighbor-advert, ' +
    'mld-listener-query, mld-listener-report, mld-listener-done, mld2-listener-report }',
  'icmpv6-routers': 'icmpv6 type nd-router-advert',
} as const
/** What routers of the link say has come no way at all (RFC 4861 6.1.2). */
const FROM_LINK = 'ip6 hoplimit 255'

export interface NftablesOptions {
  readonly names?: InterfaceNames
  /**
   * How far the clocks of the site are ahead of UTC, min: hours of intents are written in UTC,
   * which the kernel goes by whatever the zone of who loads them.
   */
  readonly utcOffset?: number
}

export function writeNftables(
  plan: SitePlan,
  { names = vlanInterfaces(plan), utcOffset = 0 }: NftablesOptions = {},
): string {
  return new Script(plan, compilePolicy(plan), names, utcOffset).text()
}

class Script {
  /**
   * Names of the sets by those of the lists: of two that nft would write alike, the second gets a
   * number.
   */
  private readonly setNames = new Map<string, string>()

  constructor(
    private readonly plan: SitePlan,
    private readonly set: RuleSet,
    private readonly names: InterfaceNames,
    private readonly utcOffset: number,
  ) {
    const taken = new Set<string>()
    for (const { name } of set.lists) {
      const plain = name.replace(/[^a-z0-9]/g, '_')
      let own = plain
      for (let n = 2; taken.has(own); n++) own = `${plain}_${n}`
      taken.add(own)
      this.setNames.set(name, own)
    }
  }

  private setName(list: AddressList, family: Family): string {
    return `${this.setNames.get(list.name)!}_${family}`
  }

  private interfacesOf(zone: Zone): string[] {
    return (zone === LINE ? this.names.lines : [this.names.segment(zone)]).map(quote)
  }
  private get inside(): string[] {
    return this.set.masquerade.flatMap((id) => this.interfacesOf(id))
  }

  text(): string {
    const { plan } = this
    const hasLine = uplinksInOrder(plan).length > 0
    return [
      `# ${plan.site.name.replace(/[^\x20-\x7e]/g, ' ')}`,
      ...(this.set.rules.some((r) => r.hours)
        ? [
            `# Hours are written in UTC, for clocks of ${plan.site.timeZone} that are ` +
              `${this.utcOffset} min ahead of it: write and load this again when they change.`,
          ]
        : []),
      '# The table of earlier versions, for IPv4 alone, goes as well.',
      'table ip able_mast',
      'delete table ip able_mast',
      'table inet able_mast',
      'delete table inet able_mast',
      'table inet able_mast {',
      ...this.set.lists.flatMap((l) => this.addressSets(l)),
      ...this.translated(),
      ...this.forwards(),
      ...this.arriving(),
      ...this.choosing(),
      ...this.input(),
      ...this.forward(),
      ...this.clamping(),
      ...this.last('spoofed', 'comes from where it cannot'),
      ...this.last('refused', 'nothing speaks for it'),
      ...(hasLine ? this.leaving() : []),
      '}',
      '',
    ].join('\n')
  }

  private addressSets(list: AddressList): string[] {
    return (['ipv4', 'ipv6'] as const).flatMap((family) => {
      const own = prefixesIn(list.prefixes, family)
      return own.length === 0
        ? []
        : [
            `  set ${this.setName(list, family)} {`,
            `    type ${family}_addr`,
            '    flags interval',
            `    elements = { ${own.join(', ')} }`,
            '  }',
            '',
          ]
    })
  }

  /** What leaves by the line with the gateway's own address. */
  private translated(): string[] {
    const own = this.set.masquerade.flatMap(
      (id) => (ownOf(this.plan.segments, id) ?? inPlan(this.plan.tunnels, id)).subnet ?? [],
    )
    return own.length === 0
      ? []
      : [
          '  set inside_ipv4 {',
          '    type ipv4_addr',
          '    flags interval',
          `    elements = { ${own.join(', ')} }`,
          '  }',
          '',
        ]
  }

  private arriving(): string[] {
    const check = (o: Origin): string[] =>
      (['ipv4', 'ipv6'] as const).flatMap((family) => {
        const at = `    iifname ${group(this.interfacesOf(o.zone))} ${wordOf[family]} saddr`
        const only = o.only && prefixesIn(o.only, family)
        // An interface without addresses of a family: nobody there has any.
        if (only?.length === 0)
          return [
            `    iifname ${group(this.interfacesOf(o.zone))} meta nfproto ${family} goto spoofed`,
          ]
        if (only) return [`${at} != { ${only.join(', ')} } goto spoofed`]
        const never = prefixesIn(o.never, family)
        return never.length === 0 ? [] : [`${at} { ${never.join(', ')} } goto spoofed`]
      })
    return [
      '  # Who may send from where (RFC 2827, RFC 3704).',
      '  chain arriving {',
      '    type filter hook prerouting priority raw; policy accept;',
      ...this.set.origins.flatMap(check),
      '  }',
      '',
    ]
  }

  /**
   * By which line a connection leaves: a mark of its order of lines, given when it begins and borne
   * until it ends. Nothing where there is one line.
   */
  private choosing(): string[] {
    const all = uplinksInOrder(this.plan)
    const lines = all.filter((u) => u.portId !== null)
    if (lines.length < 2) return []
    const { ofLine, ofChoices, usual } = marksOf(this.plan, lines)
    const at = (u: Uplink): string => quote(this.names.lines[all.indexOf(u)]!)
    const begins = 'ct state new ct mark 0'
    const weights = usual.reduce((sum, { weight }) => sum + weight, 0)
    let from = 0
    const turns = usual.map(({ mark, weight }) => {
      const span = weight === 1 ? `${from}` : `${from}-${from + weight - 1}`
      from += weight
      return `${span} : ${mark}`
    })
    return [
      '  # Which order of lines a connection takes; the routes of lines.batch go by it.',
      '  chain choosing {',
      '    type filter hook prerouting priority mangle; policy accept;',
      ...lines.map((u) => `    iifname ${at(u)} ${begins} ct mark set ${ofLine.get(u.id)!}`),
      ...ofChoices.flatMap(({ choice, mark }) => this.chosen(choice, begins, mark)),
      usual.length === 1
        ? `    ${begins} ct mark set ${usual[0]!.mark}`
        : `    ${begins} ct mark set numgen random mod ${weights} map { ${turns.join(', ')} }`,
      `    iifname != ${group(lines.map(at))} meta mark set ct mark`,
      '  }',
      '',
      '  # What the router itself answers goes back by the line that it came by.',
      '  chain answering {',
      '    type route hook output priority mangle; policy accept;',
      '    ct mark != 0 meta mark set ct mark',
      '  }',
      '',
    ]
  }

  private chosen(choice: LineChoice, begins: string, mark: number): string[] {
    const from = choice.from === ANYWHERE ? '' : `iifname ${group(this.interfacesOf(choice.from))} `
    const why = choice.reason ? ` comment ${quote(choice.reason)}` : ''
    const set = `ct mark set ${mark}${why}`
    if (choice.service === 'any') return [`    ${from}${begins} ${set}`]
    const { protocol, ports } = inPlan(this.plan.services, choice.service)
    const asked =
      protocol === 'icmp'
        ? 'icmp type echo-request'
        : ports.length === 0
          ? `meta l4proto ${numbers[protocol] ?? protocol}`
          : `${protocol} dport ${group(portsInWords(ports).split(', '))}`
    return [`    ${from}${begins} ${asked} ${set}`]
  }

  private input(): string[] {
    const own = this.set.rules.filter((r) => r.chain === 'input')
    return [
      '  chain input {',
      '    type filter hook input priority filter; policy drop;',
      '    iifname "lo" accept',
      ...own.slice(0, -1).flatMap((r) => this.lines(r)),
      '    goto refused',
      '  }',
      '',
    ]
  }

  /**
   * Rules of one interface stand in a chain of their own, between those that speak of several;
   * their order stays.
   */
  private forward(): string[] {
    const own = this.set.rules.filter((r) => r.chain === 'forward').slice(0, -1)
    const before: string[] = []
    const chains: string[] = []
    for (let i = 0; i < own.length;) {
      const run: Rule[] = []
      while (i < own.length && own[i]!.from !== 'any' && own[i]!.from.length === 1)
        run.push(own[i++]!)
      if (run.length === 0) {
        before.push(...this.lines(own[i++]!))
        continue
      }
      const byZone = new Map<Zone, Rule[]>()
      for (const r of run) byZone.set(r.from[0]!, [...(byZone.get(r.from[0]!) ?? []), r])
      const nth = chains.filter((l) => l.startsWith('  chain ')).length
      const jumps = [...byZone].flatMap(([zone, list], n) => {
        const name =
          `from_${this.interfacesOf(zone)[0]!
            .slice(1, -1)
            .replace(/[^A-Za-z0-9]/g, '_')}` + `_${nth + n + 1}`
        chains.push(
          `  chain ${name} {`,
          ...list.flatMap((r) => this.lines({ ...r, from: 'any' })),
          '  }',
          '',
        )
        return this.interfacesOf(zone).map((i) => `${i} : jump ${name}`)
      })
      before.push(`    iifname vmap { ${jumps.join(', ')} }`)
    }
    return [
      '  chain forward {',
      '    type filter hook forward priority filter; policy drop;',
      ...before,
      '    goto refused',
      '  }',
      '',
      ...chains,
    ]
  }

  /** One line for each family that a list of addresses needs words for. */
  private lines(r: Rule): string[] {
    const lists = [r.sources, r.destinations].some((l) => l !== null)
    const isNamed = lists || r.protocol.startsWith('icmp')
    const of: readonly (Family | 'any')[] =
      r.family !== 'any' ? [r.family] : isNamed ? ['ipv4', 'ipv6'] : ['any']
    return of.flatMap((family) => {
      const words = [
        r.from === 'any' ? '' : `iifname ${group(r.from.flatMap((z) => this.interfacesOf(z)))}`,
        r.chain === 'input' || r.to === 'any'
          ? ''
          : `oifname ${group(r.to.flatMap((z) => this.interfacesOf(z)))}`,
        family !== 'any' && !isNamed ? `meta nfproto ${family}` : '',
      ]
      for (const [list, side] of [
        [r.sources, 'saddr'],
        [r.destinations, 'daddr'],
      ] as const) {
        if (!list || family === 'any') continue
        if (prefixesIn(list.prefixes, family).length === 0) return []
        words.push(`${wordOf[family]} ${side} @${this.setName(list, family)}`)
      }
      words.push(
        r.states.length === 0 ? '' : `ct state ${r.states.join(',')}`,
        { too: '', only: 'ct status dnat', not: 'ct status ! dnat' }[r.forwarded],
        this.protocol(r, family),
      )
      const comment = `comment ${quote(r.intentId ? `${r.intentId}: ${r.text}` : r.text)}`
      return (r.hours ? hoursInUtc(r.hours, this.utcOffset) : ['']).map(
        (hours) =>
          `    ${[...words, hours, 'counter', r.verdict, comment].filter(Boolean).join(' ')}`,
      )
    })
  }

  private protocol(r: Rule, family: Family | 'any'): string {
    switch (r.protocol) {
      case 'any':
        return ''
      case 'icmp':
        return `${family === 'ipv4' ? 'icmp' : 'icmpv6'} type echo-request`
      case 'icmpv6-routers':
        return `${icmpv6[r.protocol]} ${FROM_LINK}`
      case 'icmpv6-errors':
      case 'icmpv6-neighbours':
        return icmpv6[r.protocol]
      default:
        return r.ports.length === 0
          ? `meta l4proto ${numbers[r.protocol] ?? r.protocol}`
          : `${r.protocol} dport ${group(portsInWords(r.ports).split(', '))}`
    }
  }

  private clamping(): string[] {
    const narrow = uplinksInOrder(this.plan).flatMap(({ name, handOff }, n) => {
      const size = segmentSizeOf(handOff)
      return size ? [{ name, size, mtu: lineMtuOf(handOff), at: this.interfacesOf(LINE)[n]! }] : []
    })
    for (const { tunnel, size, isOnGateway } of reckonedTunnels(siteModel(this.plan)))
      if (isOnGateway)
        narrow.push({
          name: tunnel.name,
          size: size.segment,
          mtu: size.mtu,
          at: quote(this.names.segment(tunnel.id)),
        })
    if (narrow.length === 0) return []
    return [
      ...narrow.map(
        ({ name, mtu }) =>
          `  # ${name.replace(/[^\x20-\x7e]/g, ' ')} takes ${mtu} octets; TCP is told so from the start (RFC 4459 3.2).`,
      ),
      '  chain clamping {',
      '    type filter hook forward priority mangle; policy accept;',
      ...narrow.flatMap(({ at, size }) =>
        (['oifname', 'iifname'] as const).flatMap((direction) =>
          (['ipv4', 'ipv6'] as const).map(
            (family) =>
              `    ${direction} ${at} meta nfproto ${family} tcp flags & (syn | rst) == syn ` +
              `tcp option maxseg size set ${size[family]}`,
          ),
        ),
      ),
      '  }',
      '',
    ]
  }

  /** A drop that is counted, and logged now and then. */
  private last(name: string, why: string): string[] {
    return [
      `  chain ${name} {`,
      `    limit rate 6/minute burst 10 packets log prefix "able_mast ${name}: "`,
      `    counter drop comment ${quote(why)}`,
      '  }',
      '',
    ]
  }

  /**
   * Ports of the line's address, whoever asks for them; the gateway's addresses inside are none of
   * it.
   */
  private forwards(): string[] {
    if (this.set.forwards.length === 0) return []
    const own = this.set.masquerade.flatMap((id) => ownOf(this.plan.segments, id)?.gateway ?? [])
    const span = (first: number, count: number): string =>
      count === 1 ? `${first}` : `${first}-${first + count - 1}`
    return [
      '  # What is asked for at the address of the line and answered inside.',
      '  chain forwards {',
      '    type nat hook prerouting priority dstnat; policy accept;',
      ...this.set.forwards.map((f) => {
        const count = f.outside.last - f.outside.first + 1
        return (
          '    fib daddr type local ' +
          `${own.length > 0 ? `ip daddr != { ${own.join(', ')} }` : 'meta nfproto ipv4'} ` +
          `${f.protocol} dport ${span(f.outside.first, count)} counter dnat ip to ` +
          `${f.address}${count === 1 ? `:${f.inside}` : ''} comment ` +
          `${quote(`${f.id}: ${f.name}`)}`
        )
      }),
      '  }',
      '',
    ]
  }

  private leaving(): string[] {
    // Who asks from the host's own segment would get the answer from the host itself, which it did
    // not ask.
    const hairpins = [...new Set(this.set.forwards.map((f) => f.segmentId))].map(
      (id) =>
        `    oifname ${group(this.interfacesOf(id))} ip saddr ` +
        `${inPlan(this.plan.segments, id).subnet!} ct status dnat masquerade`,
    )
    return [
      '  chain leaving {',
      '    type nat hook postrouting priority srcnat; policy accept;',
      ...hairpins,
      ...(this.translated().length > 0
        ? [
            `    oifname ${group([LINE, ...providerZones(this.plan)].flatMap((z) => this.interfacesOf(z)))} ` +
              'ip saddr @inside_ipv4 masquerade',
          ]
        : []),
      '  }',
    ]
  }
}

const dayNames = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

/**
 * What matches hours of the week: a line for the days of each span between two midnights of UTC.
 * Written as seconds since midnight they are taken as they are; times of day nft would turn by the
 * zone of who loads them.
 */
function hoursInUtc(hours: Hours, utcOffset: number): string[] {
  const byHours = new Map<string, number[]>()
  for (const s of weekSpans(hours))
    for (let at = s.first; at < s.end;) {
      const utc = (at - utcOffset + WEEK_MINUTES) % WEEK_MINUTES
      const length = Math.min(s.end - at, 1440 - (utc % 1440))
      const from = utc % 1440
      // To the last second before the end: both ends of a range belong to it.
      const words = length === 1440 ? '' : ` meta hour ${from * 60}-${(from + length) * 60 - 1}`
      byHours.set(words, [...(byHours.get(words) ?? []), Math.floor(utc / 1440)])
      at += length
    }
  return [...byHours].map(
    ([words, days]) =>
      `meta day ${group([...new Set(days)].sort((a, b) => a - b).map((d) => `"${dayNames[d]}"`))}${words}`,
  )
}

export const nftables = defineFormat({
  id: 'nftables',
  title: 'nftables (packet filter)',
  sheet: 'policy',
  files: 'rules.nft',
  mediaType: 'text/plain',
  write: ({ model, utcOffset }) => ({ 'rules.nft': writeNftables(model.plan, { utcOffset }) }),
  judge: {
    program: 'nft',
    args: (file) => ['-c', '-f', file],
    spoil: (text) => `${text}nothing {\n`,
  },
})
