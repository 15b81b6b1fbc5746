/**
 * The tests that a plan implies, from every segment, of both kinds: what must work and what must
 * not. A "must not" proves something only where its target is shown
 * to answer somebody who may ask it: each has a control, another test of the same target that must
 * work, and where the plan has none, one is added from a
 * neighbour of the target or from the gateway itself.
 */
import type { Probe } from '@mast/protocol'
import { containsAddress, parseAddress, prefix } from '../addressing'
import { nameServersOf } from '../naming'
import {
  ANYWHERE,
  intentsInOrder,
  lineMtuOf,
  MANAGED,
  piecesOf,
  placeName,
  PROVIDER_LAN,
  tellingPorts,
  weekWords,
  type Device,
  type Place,
  type Segment,
  type Service,
  type WeekSpan,
  type WirelessNetwork,
} from '../plan'
import { compilePolicy, decideService, mayAdminister, type Protocol } from '../policy'
import { carriageOf, type SiteModel } from '../topology'

export interface ProofTest {
  readonly id: string
  readonly title: string
  /**
   * `service` asks the controller whether a device is in service; the others are probes from a
   * host.
   */
  readonly kind: 'service' | Probe['kind']
  /** A device id, `internet`, or `gateway` where it asks itself. */
  readonly from: string
  /** Where the asking host belongs; the row of the grid. */
  readonly fromPlace: Place | 'gateway'
  /** The column of the grid. */
  readonly toPlace: Place | 'gateway' | 'controller'
  readonly expected: 'works' | 'blocked'
  /**
   * When it works, by the clocks of the site, where that is neither always nor never; it is blocked
   * at all other times.
   */
  readonly hours: { readonly spans: readonly WeekSpan[]; readonly timeZone: string } | null
  /** For a lease: the subnet, the address where one is reserved, and who alone should offer one. */
  readonly subnet: string | null
  readonly address: string | null
  readonly server: string | null
  /** The decision that it tests, in words. */
  readonly because: string
  /**
   * Of what must not work: the test that shows the target to answer. Null where nothing can show
   * it.
   */
  readonly controlId: string | null
  readonly probe: Probe | null
}

/** Where device pages answer (HTTPS; common practice of devices with a page). */
const PAGE_PORT = 443

export function proofTestsOf(model: SiteModel): ProofTest[] {
  const list = new Tests(model)
  for (const d of model.devices) if (model.profileOf(d.id).adoptable) list.service(d)
  const hosts = model.devices.filter(
    (d) => ['host', 'controller'].includes(model.profileOf(d.id).kind) && d.addressing.segmentId,
  )
  for (const host of hosts) list.ownSegment(host)
  for (const network of Object.values(model.plan.wirelessNetworks))
    list.onAir(
      network,
      hosts.filter((h) => h.wirelessNetworkId === network.id),
    )
  const asking = representatives(model, hosts)
  for (const host of asking) list.pairs(host, hosts)
  list.named(hosts)
  list.forwards(hosts)
  list.fromInternet()
  list.largest(asking)
  return list.withControls(hosts)
}

/** One asking host for each segment and way of joining it. */
function representatives(model: SiteModel, hosts: readonly Device[]): Device[] {
  const chosen = new Map<string, Device>()
  for (const h of hosts) {
    const key = `${h.addressing.segmentId}/${h.wirelessNetworkId ? 'air' : 'wire'}`
    const isHost = (d: Device): boolean => model.profileOf(d.id).kind === 'host'
    const current = chosen.get(key)
    if (!current || (isHost(h) && !isHost(current))) chosen.set(key, h)
  }
  return [...chosen.values()]
}

type Given = Pick<
  ProofTest,
  'id' | 'title' | 'kind' | 'from' | 'fromPlace' | 'toPlace' | 'expected' | 'because'
> &
  Partial<ProofTest>
type Asked = Omit<Probe, 'id' | 'from' | 'via' | 'targetVia' | 'octets'> &
  Partial<Pick<Probe, 'via' | 'targetVia' | 'octets'>>
const blank = { via: null, targetVia: null, octets: null }

/** What was decided, and by what. */
interface Verdict {
  readonly allowed: boolean
  readonly hours: readonly WeekSpan[] | null
  readonly rule: { readonly text: string; readonly intentId?: string | null }
}
type Pushed = [
  key: string,
  title: string,
  toPlace: ProofTest['toPlace'],
  decision: Verdict,
  probe: Asked,
]
/** Of one intent, on either side. */
const MOST_NAMED = 3

/** What can be asked with the means of a laptop, port by port. */
function portsOf({
  protocol,
  ports,
}: Service): { protocol: 'tcp' | 'udp' | 'icmp'; port: number | null; which: string }[] {
  if (protocol !== 'tcp' && protocol !== 'udp' && protocol !== 'icmp') return []
  const telling = tellingPorts(ports, [])
  return telling.length === 0
    ? [{ protocol, port: null, which: '' }]
    : telling.map((port) => ({
        protocol,
        port,
        which: telling.length > 1 ? ` (${protocol} ${port})` : '',
      }))
}

class Tests {
  private readonly all: ProofTest[] = []
  private readonly ids = new Set<string>()
  constructor(private readonly model: SiteModel) {}

  private add(given: Given, probe: Asked | null): void {
    if (this.ids.has(given.id)) return
    this.ids.add(given.id)
    this.all.push({
      subnet: null,
      address: null,
      server: null,
      controlId: null,
      hours: null,
      ...given,
      probe: probe && { ...blank, ...probe, id: given.id, from: given.from },
    })
  }
  private segmentOf(d: Device): Segment {
    return this.model.plan.segments[d.addressing.segmentId!]!
  }

  service(d: Device): void {
    this.add(
      {
        id: `${d.id}:service`,
        title: `${d.name} is in service`,
        kind: 'service',
        from: d.id,
        fromPlace: d.addressing.segmentId ?? 'internet',
        toPlace: 'controller',
        expected: 'works',
        because: 'it is in the plan',
      },
      null,
    )
  }

  ownSegment(host: Device): void {
    const segment = this.segmentOf(host)
    const base = {
      from: host.id,
      fromPlace: segment.id,
      toPlace: 'gateway' as const,
      expected: 'works' as const,
    }
    if (host.addressing.mode !== 'fixed')
      this.add(
        {
          ...base,
          id: `${host.id}:lease`,
          kind: 'lease',
          title: `${host.name} gets an address in ${segment.name}`,
          ...this.lease(host),
          because: `it belongs to ${this.model.vlanName(segment.id)}`,
        },
        { kind: 'lease', target: null, port: null },
      )
    this.push(host, 'ping', 'its gateway', 'gateway', this.decide(host.id, MANAGED, 'icmp', null), {
      kind: 'ping',
      target: { kind: 'own-gateway' },
      port: null,
    })
  }
  private lease(host: Device): Pick<ProofTest, 'subnet' | 'address' | 'server'> {
    const s = this.segmentOf(host)
    return {
      subnet: s.subnet,
      address: host.addressing.mode === 'reserved' ? host.addressing.address : null,
      server:
        s.dhcp.mode === 'server' ? s.gateway : s.dhcp.mode === 'relay' ? s.dhcp.relayTo : null,
    }
  }

  /**
   * Each network from each of its access points, and its clients kept apart between them where they
   * are to be.
   */
  onAir(network: WirelessNetwork, clients: readonly Device[]): void {
    const [client, other] = clients
    if (!client) return
    const segment = this.model.plan.segments[network.segmentId]!
    const points = network.accessPointIds.filter((ap) =>
      carriageOf(this.model, segment.id)
        .at(ap)
        .some((a) => a.inside === segment.vlanId),
    )
    const name = (ap: string): string => this.model.plan.devices[ap]!.name
    if (network.accessPointIds.length > 1)
      for (const ap of network.accessPointIds)
        this.add(
          {
            id: `${client.id}:lease@${ap}`,
            kind: 'lease',
            title: `${client.name} gets an address in ${segment.name} by '${network.name}' at ${name(ap)}`,
            from: client.id,
            fromPlace: segment.id,
            toPlace: 'gateway',
            expected: 'works',
            ...this.lease(client),
            because: `${name(ap)} sends '${network.name}'`,
          },
          { kind: 'lease', target: null, port: null, via: ap },
        )
    if (!network.clientIsolation || !other || points.length === 0) return
    // On one access point, and from the first to each of the others.
    for (const ap of points)
      this.add(
        {
          id: `${client.id}>${other.id}:apart@${ap}`,
          kind: 'ping',
          title: `${client.name} at ${name(points[0]!)} must not reach ${other.name} at ${name(ap)}`,
          from: client.id,
          fromPlace: segment.id,
          toPlace: segment.id,
          expected: 'blocked',
          because: `'${network.name}' keeps its clients apart`,
        },
        {
          kind: 'ping',
          target: { kind: 'host', deviceId: other.id },
          port: null,
          via: points[0]!,
          targetVia: ap,
        },
      )
  }

  pairs(asking: Device, hosts: readonly Device[]): void {
    const { plan } = this.model
    const own = this.segmentOf(asking)
    const push = (...[key, title, toPlace, decision, probe]: Pushed): void =>
      this.push(asking, key, title, toPlace, decision, probe)
    this.page(asking)
    if (this.model.uplink?.portId) {
      const names = this.names(asking, own)
      if (names)
        push('name', 'the name service', names.to, names.decision, {
          kind: 'name',
          target: null,
          port: null,
        })
      const web = plan.services['svc-web']
      for (const port of web ? tellingPorts(web.ports, []) : []) {
        push(
          port === PAGE_PORT ? 'internet' : `internet:${port}`,
          `the web on the internet${port === PAGE_PORT ? '' : `, port ${port}`}`,
          'internet',
          this.decide(asking.id, 'internet', 'tcp', port),
          { kind: 'tcp', target: { kind: 'internet' }, port },
        )
      }
    }
    for (const other of this.model.segments) {
      this.pages(asking, own, other)
      if (other.id === own.id) continue
      const target = targetIn(hosts.filter((h) => h.addressing.segmentId === other.id))
      if (!target) continue
      this.services(asking, target, this.offeredBy(target))
    }
  }

  private page(asking: Device): void {
    const page = this.decide(asking.id, MANAGED, 'tcp', PAGE_PORT)
    this.push(
      asking,
      'page',
      "the gateway's page",
      'gateway',
      page.allowed || page.hours || page.rule.intentId
        ? page
        : { ...page, rule: { text: 'device pages are for management only' } },
      { kind: 'tcp', target: { kind: 'own-gateway' }, port: PAGE_PORT },
    )
  }

  /** What a host answers to: pings, and what it offers. */
  private offeredBy(target: Device): Service[] {
    const { services } = this.model.plan
    return [
      ...new Map(
        [
          ...(services['svc-ping'] ? [services['svc-ping']] : []),
          ...target.serviceIds.map((id) => services[id]!),
        ].map((s) => [s.id, s]),
      ).values(),
    ]
  }

  private services(asking: Device, target: Device, services: readonly Service[]): void {
    const to = target.addressing.segmentId!
    for (const service of services)
      for (const { protocol, port, which } of portsOf(service))
        this.push(
          asking,
          `${target.id}:${service.id}${which && `:${port}`}`,
          `${service.name}${which} on ${target.name} in ${placeName(this.model.plan, to)}`,
          to,
          this.decide(asking.id, target.id, protocol, port),
          {
            kind: protocol === 'icmp' ? 'ping' : protocol,
            target: { kind: 'host', deviceId: target.id },
            port,
          },
        )
  }

  private decide(from: string, to: string, protocol: Protocol, port: number | null): Verdict {
    return decideService(this.model.plan, from, to, {
      id: 'asked',
      name: 'asked',
      protocol,
      ports: port === null ? [] : [port],
    })
  }

  private push(
    asking: Device,
    key: string,
    title: string,
    toPlace: ProofTest['toPlace'],
    { allowed, hours, rule }: Verdict,
    probe: Asked,
  ): void {
    this.add(
      {
        id: `${asking.id}:${key}`,
        title:
          `${asking.name} ${allowed || hours ? 'reaches' : 'must not reach'} ` +
          `${title}${hours ? `, ${weekWords(hours)} only` : ''}`,
        kind: probe.kind,
        from: asking.id,
        fromPlace: asking.addressing.segmentId!,
        toPlace,
        expected: allowed || hours ? 'works' : 'blocked',
        hours: hours && { spans: hours, timeZone: this.model.plan.site.timeZone },
        because: rule.text,
      },
      probe,
    )
  }

  /**
   * Hosts that intents name, by themselves or in a group, and what is said of the gateway itself.
   */
  named(hosts: readonly Device[]): void {
    const { plan } = this.model
    const isHost = new Map(hosts.map((h) => [h.id, h]))
    const among = (place: Place): Device[] =>
      piecesOf(plan, place)
        .flatMap(
          (p) => isHost.get(p) ?? targetIn(hosts.filter((h) => h.addressing.segmentId === p)) ?? [],
        )
        .slice(0, MOST_NAMED)
    for (const intent of intentsInOrder(plan)) {
      const isPlain = [intent.from, intent.to].every((p) => p === 'internet' || plan.segments[p])
      if (isPlain || intent.to === PROVIDER_LAN) continue
      const services = intent.service === 'any' ? undefined : [plan.services[intent.service]!]
      for (const asking of among(intent.from)) {
        if (intent.to === MANAGED) {
          this.page(asking)
          for (const other of this.model.segments) this.pages(asking, this.segmentOf(asking), other)
          continue
        }
        for (const target of among(intent.to))
          if (target.addressing.segmentId !== asking.addressing.segmentId)
            this.services(
              asking,
              target,
              services?.filter((s) => target.serviceIds.includes(s.id) || s.protocol === 'icmp') ??
                this.offeredBy(target),
            )
        if (intent.to === 'internet' || intent.to === ANYWHERE) this.pairs(asking, [])
      }
    }
  }

  /** Ports of the line: from outside, and from inside by the same address. */
  forwards(hosts: readonly Device[]): void {
    const { uplink, plan } = this.model
    if (!uplink?.portId || !isPublic(this.model)) return
    for (const f of compilePolicy(plan).forwards) {
      const device = plan.devices[f.deviceId]!
      const asking = [
        hosts.find(
          (h) =>
            h.addressing.segmentId === f.segmentId && h.id !== f.deviceId && !h.wirelessNetworkId,
        ),
        hosts.find((h) => h.addressing.segmentId !== f.segmentId && !h.wirelessNetworkId),
      ].filter((h) => h !== undefined)
      for (const port of new Set([f.outside.first, f.outside.last])) {
        const probe = { kind: f.protocol, target: { kind: 'line' as const }, port }
        const base = {
          kind: f.protocol,
          toPlace: f.segmentId,
          expected: 'works' as const,
          because: plan.forwards[f.id]!.reason || `the port leads to ${device.name}`,
        }
        this.add(
          {
            ...base,
            id: `internet:${f.id}:${port}`,
            title: `The internet reaches ${f.name} on ${device.name} by ${f.protocol} ${port}`,
            from: 'internet',
            fromPlace: 'internet',
          },
          probe,
        )
        for (const h of asking)
          this.add(
            {
              ...base,
              id: `${h.id}:${f.id}:${port}`,
              title: `${h.name} reaches ${f.name} by the address of the line too`,
              from: h.id,
              fromPlace: h.addressing.segmentId!,
            },
            probe,
          )
      }
    }
  }

  /**
   * The pages of devices: all of them from where they may be opened, one of a segment from
   * elsewhere.
   */
  private pages(asking: Device, own: Segment, other: Segment): void {
    const devices = this.model
      .membersOf(other.id)
      .filter((d) => this.model.profileOf(d.id).adoptable && d.id !== this.model.gateway?.id)
    const isNeighbour = other.id === own.id
    if (isNeighbour && !mayAdminister(own)) return
    let shut = 0
    for (const d of devices) {
      const decision: Verdict = isNeighbour
        ? {
            allowed: true,
            hours: null,
            rule: { text: 'both are in one segment, where no rule of the gateway is asked' },
          }
        : this.decide(asking.id, d.id, 'tcp', PAGE_PORT)
      if (!decision.allowed && !decision.hours && shut++ > 0) continue
      this.push(asking, `page:${d.id}`, `the page of ${d.name}`, other.id, decision, {
        kind: 'tcp',
        target: { kind: 'host', deviceId: d.id },
        port: PAGE_PORT,
      })
    }
  }

  /** Whom the host asks for names, and whether it may. A typed address asks its gateway. */
  private names(
    asking: Device,
    own: Segment,
  ): { to: ProofTest['toPlace']; decision: Verdict } | undefined {
    const [server] =
      asking.addressing.mode === 'fixed' ? [asking.addressing.gateway] : nameServersOf(own)
    const at = server ? parseAddress(server) : undefined
    if (!at) return undefined
    if (this.model.segments.some((s) => s.gateway === server))
      return { to: 'gateway', decision: this.decide(asking.id, MANAGED, 'udp', 53) }
    const home = this.model.segments.find((s) => s.subnet && containsAddress(prefix(s.subnet), at))
    if (home?.id === own.id)
      return {
        to: home.id,
        decision: { allowed: true, hours: null, rule: { text: 'its name server is a neighbour' } },
      }
    return {
      to: home?.id ?? 'internet',
      decision: this.decide(asking.id, home?.id ?? 'internet', 'udp', 53),
    }
  }

  fromInternet(): void {
    if (!this.model.uplink?.portId) return
    const ask = (id: string, what: string, protocol: 'tcp' | 'icmp', port: number | null): void => {
      const { allowed, hours, rule } = this.decide('internet', MANAGED, protocol, port)
      // What is opened cannot be shown where nobody outside reaches the line at all.
      if ((allowed || hours) && !isPublic(this.model)) return
      this.add(
        {
          id,
          kind: protocol === 'icmp' ? 'ping' : protocol,
          title: `The internet ${allowed || hours ? 'reaches' : 'must not reach'} ${what}`,
          from: 'internet',
          fromPlace: 'internet',
          toPlace: 'gateway',
          expected: allowed || hours ? 'works' : 'blocked',
          hours: hours && { spans: hours, timeZone: this.model.plan.site.timeZone },
          because: rule.text,
        },
        { kind: protocol === 'icmp' ? 'ping' : protocol, target: { kind: 'line' }, port },
      )
    }
    // Where the port leads on to a host it is not the gateway that answers.
    if (
      !compilePolicy(this.model.plan).forwards.some(
        (f) => f.protocol === 'tcp' && f.outside.first <= PAGE_PORT && PAGE_PORT <= f.outside.last,
      )
    )
      ask('internet:page', "the gateway's page", 'tcp', PAGE_PORT)
    ask('internet:ping', 'the gateway by a ping', 'icmp', null)
  }

  /**
   * The largest packet that the line is said to carry, whole: from the gateway, and from a host
   * where one may ping the internet. A small one beside it tells size from silence.
   */
  largest(asking: readonly Device[]): void {
    const { uplink } = this.model
    if (!uplink?.portId) return
    const octets = lineMtuOf(uplink.handOff)
    const probe = { kind: 'ping' as const, target: { kind: 'internet' as const }, port: null }
    const base = { kind: 'ping' as const, toPlace: 'internet' as const, expected: 'works' as const }
    this.add(
      {
        ...base,
        id: 'gateway>internet:ping:',
        title: 'The internet answers, asked by the gateway',
        from: 'gateway',
        fromPlace: 'gateway',
        because: 'what must not be reached has to be there',
      },
      probe,
    )
    this.add(
      {
        ...base,
        id: 'gateway>internet:largest',
        title: `A packet of ${octets} octets passes the line whole, sent by the gateway`,
        from: 'gateway',
        fromPlace: 'gateway',
        because: `${uplink.name} has an MTU of ${octets}`,
      },
      { ...probe, octets },
    )
    const host = asking.find((h) => this.decide(h.id, 'internet', 'icmp', null).allowed)
    if (host)
      this.add(
        {
          ...base,
          id: `${host.id}>internet:largest`,
          title: `A packet of ${octets} octets passes the line whole, sent by ${host.name}`,
          from: host.id,
          fromPlace: host.addressing.segmentId!,
          because: `${uplink.name} has an MTU of ${octets}`,
        },
        { ...probe, octets },
      )
  }

  withControls(hosts: readonly Device[]): ProofTest[] {
    const targetOf = (t: ProofTest): string => {
      const { target, port, kind } = t.probe!
      // The gateway is one, whichever of its addresses is asked; names are asked of whoever serves
      // them.
      const who =
        kind === 'name'
          ? `names ${t.toPlace}`
          : !target
            ? ''
            : target.kind === 'line' && t.toPlace !== 'gateway'
              ? `led to ${t.toPlace}`
              : target.kind === 'host'
                ? target.deviceId
                : target.kind === 'own-gateway' || target.kind === 'line'
                  ? 'gateway'
                  : target.kind
      return `${kind === 'name' ? 'name' : kind}/${port ?? ''}/${who}`
    }
    const working = new Map<string, ProofTest>()
    const note = (t: ProofTest): void => {
      if (
        t.probe &&
        t.expected === 'works' &&
        t.hours === null &&
        !t.probe.octets &&
        t.kind !== 'lease' &&
        !working.has(targetOf(t))
      )
        working.set(targetOf(t), t)
    }
    this.all.forEach(note)
    const needs = (t: ProofTest): boolean => t.expected === 'blocked' || t.hours !== null
    for (const t of this.all.filter(needs)) {
      if (working.has(targetOf(t))) continue
      this.control(t, hosts)
      note(this.all.at(-1)!)
    }
    // Of a gateway whose page nobody may open it is known at least that it is there.
    const gateway = this.all.find(
      (t) => t.kind === 'ping' && t.expected === 'works' && t.probe!.target?.kind === 'own-gateway',
    )
    const controlOf = (t: ProofTest): string | null =>
      (working.get(targetOf(t)) ?? (targetOf(t).endsWith('/gateway') ? gateway : undefined))?.id ??
      null
    return this.all.map((t) => (needs(t) ? { ...t, controlId: controlOf(t) } : t))
  }

  /**
   * The same asked by a neighbour of the target, who passes no rule of the gateway, or by the
   * gateway itself.
   */
  private control(t: ProofTest, hosts: readonly Device[]): void {
    const { kind, target, port } = t.probe!
    const base = {
      kind: t.kind,
      fromPlace: t.toPlace as ProofTest['fromPlace'],
      toPlace: t.toPlace,
      expected: 'works' as const,
    }
    const what = kind === 'ping' ? 'answers' : `answers on ${kind} ${port}`
    if (target?.kind === 'internet') {
      this.add(
        {
          ...base,
          id: `gateway>internet:${kind}:${port ?? ''}`,
          title: `The internet ${what}, asked by the gateway`,
          from: 'gateway',
          fromPlace: 'gateway',
          because: 'what must not be reached has to be there',
        },
        { kind, target, port },
      )
      return
    }
    if (target?.kind !== 'host') return
    const asked = this.model.plan.devices[target.deviceId]!
    // A client of a network that isolates hears no neighbour on the air.
    const neighbour = hosts.find(
      (h) =>
        h.id !== asked.id &&
        h.addressing.segmentId === asked.addressing.segmentId &&
        !(h.wirelessNetworkId && asked.wirelessNetworkId),
    )
    const from = neighbour?.id ?? 'gateway'
    this.add(
      {
        ...base,
        id: `${from}>${asked.id}:${kind}:${port ?? ''}`,
        title: `${asked.name} ${what}, asked by ${neighbour?.name ?? 'the gateway'}`,
        from,
        fromPlace: neighbour ? base.fromPlace : 'gateway',
        because: 'what must not be reached has to be there',
      },
      { kind, target, port },
    )
  }
}

/** Whether the address of the line is one that the internet can ask, as far as is known. */
const isPublic = ({ uplink }: SiteModel): boolean =>
  !['private', 'carrier-grade'].includes(uplink?.handOff.addressKind ?? '')

/** A wired host that offers something is the most telling target. */
function targetIn(hosts: readonly Device[]): Device | undefined {
  const worth = (d: Device): number => d.serviceIds.length * 2 + (d.wirelessNetworkId ? 0 : 1)
  return [...hosts].sort((a, b) => worth(b) - worth(a) || (a.id < b.id ? -1 : 1))[0]
}
