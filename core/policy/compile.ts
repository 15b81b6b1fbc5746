/**
 * Intents become the ordered rules of a stateful gateway: the first rule that matches a new
 * connection decides, replies follow the
 * state of their connection. What no intent speaks of falls to the site's default; nothing comes in
 * from the internet by default.
 */
import { remembered } from '../remember'
import {
  collapse,
  formatPrefix,
  isPrivate,
  overlaps,
  privateBlocks,
  type Prefix,
} from '../addressing'
import { nameServersOf } from '../naming'
import {
  activeTunnels,
  controllerPlace,
  endsOnGateway,
  inPlan,
  hasKnownAddress,
  hoursWords,
  intentsInOrder,
  lineMtuOf,
  MANAGED,
  own as ownOf,
  peersOf,
  peerSpace,
  placeName,
  portsInWords,
  PROVIDER_LAN,
  tunnelOf,
  tunnelSpace,
  tunnelZone,
  uplinksInOrder,
  type HandOff,
  type Intent,
  type Place,
  type Segment,
  type SitePlan,
  type Tunnel,
} from '../plan'
import { Ends, providerZones } from './ends'
import {
  addressList,
  addressless,
  isFamily,
  LINE,
  prefixesOf,
  type AddressList,
  type Family,
  type Forwarding,
  type Origin,
  type Rule,
  type RuleSet,
  type Zone,
} from './rules'
import { specialPurpose } from './special'

/** Segments from which the pages of gateway, switches and access points may be opened. */
export const mayAdminister = (s: Segment): boolean => s.purpose === 'management'

export const compilePolicy: (plan: SitePlan) => RuleSet = remembered((plan) => compile(plan))

/** RFC 7296 2, and where addresses are translated on the way (RFC 3947). */
const IKE_PORTS = [500, 4500] as const

const subnetsOf = (s: Segment): Prefix[] => prefixesOf([s.subnet, s.subnet6])
const gatewayAddresses = (segments: readonly Segment[]): ReadonlySet<string> =>
  new Set(segments.flatMap((s) => s.gateway ?? []))
/** Whether one of the servers that a segment is told of is the gateway. */
const asksGateway = (servers: readonly string[], gateways: ReadonlySet<string>): boolean =>
  servers.some((a) => gateways.has(a))
const hasIpv6 = ({ ipv6 }: HandOff): boolean => typeof ipv6 === 'object' && ipv6 !== null

/** Without the headers of IP and TCP, 40 and 60 octets (RFC 9293 3.7.1, RFC 8200 8.3). */
export function segmentSizeOf(h: HandOff): { ipv4: number; ipv6: number } | null {
  const mtu = lineMtuOf(h)
  return mtu < 1500 ? { ipv4: mtu - 40, ipv6: mtu - 60 } : null
}

function compile(plan: SitePlan): RuleSet {
  const segments = Object.values(plan.segments).sort((a, b) => a.vlanId - b.vlanId)
  const all = segments.map((s) => s.id)
  const ids = (which: (s: Segment) => boolean): string[] => segments.filter(which).map((s) => s.id)
  const handOffs = uplinksInOrder(plan).map((u) => u.handOff)
  const providerLan = prefixesOf(handOffs.map((h) => h.providerLan))
  const tunnels = activeTunnels(plan)
  /** Those that end on the gateway, and lead to people and sites. */
  const inner = tunnels.filter((t) => t.kind !== 'provider' && tunnelZone(plan, t) === t.id)
  const innerIds = inner.map((t) => t.id)
  const inside = segments.flatMap(subnetsOf)
  // Of the provider's own network the numbers are known, or it is somewhere in private space.
  const own = providerLan.length > 0 ? providerLan : privateBlocks
  const spaceOf = (place: Place, family: Family): readonly Prefix[] =>
    (place === 'internet'
      ? []
      : place === PROVIDER_LAN
        ? own
        : spaceInside(plan, place, family)
    ).filter((p) => isFamily(p, family))
  const special = addressList('special-purpose', [...specialPurpose, ...providerLan], spaceOf)
  const provider = addressList('provider-network', own, spaceOf)
  const unique = addressList(
    'private-ipv6',
    inside.filter((p) => p.family === 6 && isPrivate(p)),
    spaceOf,
  )

  const rules: Rule[] = []
  const seen = new Set<string>()
  const add: AddRule = (rule) => {
    const whole: Rule = {
      from: 'any',
      to: 'any',
      family: 'any',
      sources: null,
      destinations: null,
      protocol: 'any',
      ports: [],
      states: ['new'],
      forwarded: 'too',
      hours: null,
      intentId: null,
      ...rule,
    }
    // Where nobody is meant, or nobody whose address is known.
    if (
      whole.from.length === 0 ||
      whole.to.length === 0 ||
      [whole.sources, whole.destinations].some((l) => l?.prefixes.length === 0)
    )
      return
    // What matches the same as an earlier rule never gets its turn.
    const key = JSON.stringify([
      whole.chain,
      whole.from,
      whole.to,
      whole.family,
      whole.sources?.name,
      whole.destinations?.name,
      whole.protocol,
      portsInWords(whole.ports),
      whole.states,
      whole.forwarded,
      whole.hours,
    ])
    if (seen.has(key)) return
    seen.add(key)
    rules.push(whole)
  }

  for (const chain of ['input', 'forward'] as const) {
    add({
      id: `${chain}-established`,
      chain,
      states: ['established', 'related'],
      verdict: 'accept',
      text: 'replies follow their connection',
    })
    if (chain === 'input') {
      add({
        id: 'input-neighbours',
        chain,
        family: 'ipv6',
        protocol: 'icmpv6-neighbours',
        states: [],
        verdict: 'accept',
        text: 'neighbours of a link find each other (RFC 4890 4.4.1)',
      })
      if (handOffs.some(hasIpv6))
        add({
          id: 'input-routers',
          chain,
          from: [LINE],
          family: 'ipv6',
          protocol: 'icmpv6-routers',
          states: [],
          verdict: 'accept',
          text: 'the provider tells of its router',
        })
    }
    add({
      id: `${chain}-errors`,
      chain,
      family: 'ipv6',
      protocol: 'icmpv6-errors',
      states: [],
      verdict: 'accept',
      text: 'errors must pass, or paths with a smaller MTU go silent (RFC 4890 4.3.1)',
    })
    add({
      id: `${chain}-invalid`,
      chain,
      states: ['invalid'],
      verdict: 'drop',
      text: 'belongs to no connection',
    })
  }
  const gateways = gatewayAddresses(segments)
  add({
    id: 'input-dhcp',
    chain: 'input',
    from: ids((s) => s.dhcp.mode !== 'off'),
    family: 'ipv4',
    protocol: 'udp',
    ports: [67],
    verdict: 'accept',
    text: 'asks for a lease',
  })
  const named = [
    ...ids((s) => asksGateway(nameServersOf(s), gateways)),
    ...inner.filter((t) => t.nameServers.length === 0).map((t) => t.id),
  ]
  for (const protocol of ['udp', 'tcp'] as const)
    add({
      id: `input-names-${protocol}`,
      chain: 'input',
      from: named,
      protocol,
      ports: [53],
      verdict: 'accept',
      text:
        protocol === 'udp'
          ? 'asks the gateway for names'
          : 'asks for names whose answer is long (RFC 7766)',
    })
  add({
    id: 'input-time',
    chain: 'input',
    from: ids((s) => asksGateway(s.options.timeServers, gateways)),
    protocol: 'udp',
    ports: [123],
    verdict: 'accept',
    text: 'asks the gateway for the time',
  })
  const managed = new Set(pagesOf(plan).map((id) => inPlan(plan.devices, id).addressing.segmentId))
  if (controllerPlace(plan)?.kind === 'gateway')
    add({
      id: 'input-controller',
      chain: 'input',
      from: ids((s) => mayAdminister(s) || managed.has(s.id)),
      family: 'ipv4',
      protocol: 'tcp',
      ports: [
        plan.controller.port,
        ...(plan.controller.bootstrap ? [plan.controller.bootstrap.port] : []),
      ],
      verdict: 'accept',
      text: 'calls the controller in the gateway',
    })
  for (const t of tunnels)
    if (endsOnGateway(plan, t))
      for (const port of t.protocol === 'ikev2' ? IKE_PORTS : [t.listenPort ?? []].flat())
        add({
          id: `input-tunnel-${t.id}-${port}`,
          chain: 'input',
          // From inside too: tried there first, keys and addresses are proven before the line is.
          from: [...all, LINE],
          protocol: 'udp',
          ports: [port],
          verdict: 'accept',
          text: `${t.name} is called here`,
        })
  if (tunnels.some((t) => t.protocol === 'ikev2' && endsOnGateway(plan, t)))
    add({
      id: 'input-tunnel-esp',
      chain: 'input',
      from: [LINE],
      protocol: 'esp',
      verdict: 'accept',
      text: 'what a tunnel carries where no address is translated (RFC 4303)',
    })
  const intents = intentsInOrder(plan)
  const ends = new Ends(plan, all, (name, prefixes) => addressList(name, prefixes, spaceOf))
  for (const intent of intents)
    if (intent.to === MANAGED) addIntent(plan, intent, ends, add, { chain: 'input', to: null })
  add({
    id: 'input-ping',
    chain: 'input',
    from: [...all, ...innerIds],
    protocol: 'icmp',
    verdict: 'accept',
    text: 'every segment may ping its gateway',
  })
  add({
    id: 'input-pages',
    chain: 'input',
    from: ids(mayAdminister),
    protocol: 'tcp',
    ports: [22, 443],
    verdict: 'accept',
    text: 'only management opens device pages',
  })
  if (handOffs.some(hasIpv6))
    add({
      id: 'input-delegation',
      chain: 'input',
      from: [LINE],
      family: 'ipv6',
      protocol: 'udp',
      ports: [546],
      verdict: 'accept',
      text: 'the provider answers for its prefix (RFC 8415 7.2)',
    })
  add({
    id: 'input-rest',
    chain: 'input',
    verdict: 'drop',
    text: 'nothing else reaches the gateway itself',
  })

  add({
    id: 'forward-bogons',
    chain: 'forward',
    from: [LINE],
    sources: special,
    verdict: 'drop',
    text: 'nobody on the internet has such an address (RFC 6890)',
  })
  const forwards = forwardings(plan)
  for (const f of forwards)
    add({
      id: `forward-${f.id}`,
      chain: 'forward',
      from: [...all, LINE],
      to: [f.segmentId],
      family: 'ipv4',
      destinations: ends.list('of', f.deviceId, [`${f.address}/32`]),
      protocol: f.protocol,
      ports:
        f.outside.first === f.outside.last
          ? [f.inside]
          : [{ first: f.inside, last: f.inside + f.outside.last - f.outside.first }],
      forwarded: 'only',
      verdict: 'accept',
      text: inPlan(plan.forwards, f.id).reason || `${f.name}: a port of the line leads here`,
    })
  add({
    id: 'forward-unaddressed',
    chain: 'forward',
    from: [LINE],
    family: 'ipv4',
    forwarded: 'not',
    verdict: 'drop',
    text: 'addresses inside cannot be reached from the internet but by port forwards',
  })
  // The exception from what follows, where somebody states it: the page of a modem, the provider's
  // own router.
  for (const intent of intents)
    if (intent.to === PROVIDER_LAN)
      addIntent(plan, intent, ends, add, { chain: 'forward', to: provider })
  add({
    id: 'forward-not-internet',
    chain: 'forward',
    to: [LINE, ...providerZones(plan)],
    destinations: special,
    verdict: 'drop',
    text: "the provider's own network and other special space are not the internet (RFC 6890)",
  })
  if (unique.prefixes.length > 0) {
    add({
      id: 'forward-unique-out',
      chain: 'forward',
      to: [LINE],
      family: 'ipv6',
      sources: unique,
      verdict: 'drop',
      text: 'unique local addresses stay inside (RFC 4193 4.3)',
    })
    add({
      id: 'forward-unique-in',
      chain: 'forward',
      from: [LINE],
      family: 'ipv6',
      destinations: unique,
      verdict: 'drop',
      text: 'unique local addresses cannot be reached from the internet (RFC 4193 4.3)',
    })
  }
  for (const w of Object.values(plan.wirelessNetworks))
    if (w.portal)
      add({
        id: `forward-portal-${w.id}`,
        chain: 'forward',
        from: [w.segmentId],
        destinations: ends.list('before', w.id, w.portal.before),
        verdict: 'accept',
        text: `guests of '${w.name}' reach it before they have passed its page`,
      })
  const pages = pagesOf(plan)
  for (const intent of intents)
    if (intent.to === MANAGED)
      addIntent(plan, intent, ends, add, { chain: 'forward', to: null, pages })
    else if (intent.to !== PROVIDER_LAN)
      addIntent(plan, intent, ends, add, { chain: 'forward', to: null })
  if (plan.site.preferences.betweenSegments === 'allow')
    add({
      id: 'forward-open',
      chain: 'forward',
      from: all,
      verdict: 'accept',
      text: 'the site leaves open what no intent denies',
    })
  add({
    id: 'forward-rest',
    chain: 'forward',
    verdict: 'drop',
    text: 'what no intent allows is dropped',
  })

  return {
    origins: origins(plan, segments, tunnels, handOffs.length > 0, providerLan),
    rules,
    lists: [special, unique, provider, ...ends.named].filter((l) =>
      rules.some((r) => r.sources === l || r.destinations === l),
    ),
    // Whoever sends everything through a tunnel leaves by the line as a segment does.
    masquerade: [
      ...all,
      ...inner.filter((t) => peersOf(plan, t.id).some((p) => p.isFull)).map((t) => t.id),
    ],
    forwards,
    zoneOf: (place) => zoneOf(plan, place),
  }
}

type AddRule = (rule: Partial<Rule> & Pick<Rule, 'id' | 'chain' | 'verdict' | 'text'>) => void
interface Leading {
  readonly chain: Rule['chain']
  /** Of the line: the provider's own network. */ readonly to: AddressList | null
  /** Ids of devices whose pages are meant. */ readonly pages?: readonly string[]
}

function addIntent(
  plan: SitePlan,
  intent: Intent,
  ends: Ends,
  add: AddRule,
  { chain, to: provider, pages }: Leading,
): void {
  const service = intent.service === 'any' ? undefined : plan.services[intent.service]
  const from = ends.of(intent.from, 'from', intent.action)
  const to =
    chain === 'input'
      ? { zones: [], addresses: null }
      : pages
        ? ends.members('device-pages', pages, intent.action)
        : ends.of(intent.to, 'to', intent.action)
  add({
    id: `${pages ? 'forward-pages' : chain}-${intent.id}`,
    chain,
    from: from.zones,
    to: chain === 'input' ? 'any' : to.zones,
    intentId: intent.id,
    sources: from.addresses,
    destinations: provider ?? to.addresses,
    family: provider ? 'ipv4' : 'any',
    protocol: service?.protocol ?? 'any',
    ports: service?.ports ?? [],
    hours: intent.hours,
    verdict: intent.action === 'allow' ? 'accept' : 'drop',
    text:
      (intent.reason || sentence(plan, intent)) +
      (intent.hours ? ` (${hoursWords(intent.hours)})` : ''),
  })
}

/** Managed devices other than the gateway. */
export const pagesOf = (plan: SitePlan): string[] =>
  Object.values(plan.devices)
    .filter(
      (d) =>
        d.addressing.segmentId !== null &&
        inPlan(plan.profiles, d.profileId).adoptable &&
        inPlan(plan.profiles, d.profileId).kind !== 'gateway',
    )
    .map((d) => d.id)
    .sort()

function zoneOf(plan: SitePlan, place: Place): Zone {
  if (place === 'internet' || place === PROVIDER_LAN) return LINE
  const tunnel = tunnelOf(plan, place)
  if (tunnel) return tunnelZone(plan, tunnel) ?? tunnel.id
  return ownOf(plan.devices, place)?.addressing.segmentId ?? place
}

/** Where hosts of a place may be: a host has its address, and over IPv6 any of its segment. */
function spaceInside(plan: SitePlan, place: Place, family: Family): Prefix[] {
  const peer = ownOf(plan.peers, place)
  if (peer) return prefixesOf(peerSpace(peer))
  const tunnel = ownOf(plan.tunnels, place)
  if (tunnel) return prefixesOf(tunnelSpace(plan, tunnel))
  const device = ownOf(plan.devices, place)
  if (!device) return ownOf(plan.segments, place) ? subnetsOf(inPlan(plan.segments, place)) : []
  const home = device.addressing.segmentId ? plan.segments[device.addressing.segmentId] : undefined
  if (family === 'ipv6') return prefixesOf([home?.subnet6])
  return hasKnownAddress(device)
    ? prefixesOf([`${device.addressing.address!}/32`])
    : prefixesOf([home?.subnet])
}

/** Port forwards that lead to a host whose address is known; of the others the findings tell. */
function forwardings(plan: SitePlan): Forwarding[] {
  const taken = new Set<string>()
  return Object.values(plan.forwards)
    .sort((a, b) => (a.id < b.id ? -1 : 1))
    .flatMap((f): Forwarding[] => {
      const device = inPlan(plan.devices, f.deviceId)
      const { address, segmentId } = device.addressing
      if (!hasKnownAddress(device) || !inPlan(plan.segments, segmentId!).subnet) return []
      // The first that takes a port has it.
      const ports = Array.from(
        { length: f.outside.last - f.outside.first + 1 },
        (_, i) => `${f.protocol} ${f.outside.first + i}`,
      )
      if (ports.some((p) => taken.has(p))) return []
      for (const p of ports) taken.add(p)
      return [
        {
          id: f.id,
          name: f.name,
          protocol: f.protocol,
          outside: f.outside,
          inside: f.inside,
          deviceId: f.deviceId,
          segmentId: segmentId!,
          address: address!,
        },
      ]
    })
}

/** Without what lies in another: sets of a packet filter take nothing twice. */
const apart = (texts: readonly string[]): string[] => collapse(prefixesOf(texts)).map(formatPrefix)

/** Every interface inside has its own networks; the line has everybody else's. */
function origins(
  plan: SitePlan,
  segments: readonly Segment[],
  tunnels: readonly Tunnel[],
  hasLine: boolean,
  providerLan: readonly Prefix[],
): Origin[] {
  const text = (list: readonly (string | null)[]): string[] => list.filter((t) => t !== null)
  const isOutsideToo = (t: string): boolean =>
    prefixesOf([t]).some((p) => providerLan.some((l) => overlaps(l, p)))
  return [
    ...segments.map((s): Origin => ({
      zone: s.id,
      only: [
        ...addressless.ipv4,
        ...text([s.subnet]),
        ...addressless.ipv6,
        ...text([s.subnet6]),
        // What comes out of a tunnel that ends on one of its hosts.
        ...tunnels.filter((t) => tunnelZone(plan, t) === s.id).flatMap((t) => tunnelSpace(plan, t)),
      ],
      never: [],
    })),
    ...tunnels
      .filter((t) => t.kind !== 'provider' && tunnelZone(plan, t) === t.id)
      .map((t): Origin => ({ zone: t.id, only: apart(tunnelSpace(plan, t)), never: [] })),
    // A network that is on both sides is a mistake of the plan, which is told; nothing is to be
    // lost for it here.
    ...(hasLine
      ? [
          {
            zone: LINE,
            only: null,
            never: [
              ...segments.flatMap((s) => text([s.subnet, s.subnet6])),
              ...apart(tunnels.flatMap((t) => tunnelSpace(plan, t))).filter(
                (t) =>
                  !segments.some((s) => subnetsOf(s).some((p) => overlaps(p, prefixesOf([t])[0]!))),
              ),
            ].filter((t) => !isOutsideToo(t)),
          },
        ]
      : []),
  ]
}

const preposition = (plan: SitePlan, to: Place): string =>
  plan.segments[to] || plan.groups[to] ? 'in' : 'on'

function sentence(plan: SitePlan, intent: Intent): string {
  const what = intent.service === 'any' ? 'everything' : inPlan(plan.services, intent.service).name
  return (
    `${placeName(plan, intent.from)} ${intent.action === 'allow' ? 'may use' : 'may not use'} ` +
    `${what} ${preposition(plan, intent.to)} ${placeName(plan, intent.to)}`
  )
}
