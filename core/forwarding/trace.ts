/**
 * The fate of one new connection on the plan: every hop from the asking host to the answering one,
 * and the rule, route or cable that
 * decides. Layer 2 follows the carriage, layer 3 the gateway's connected networks and its default
 * route, then the rules, then NAT.
 */
import { containsAddress, overlaps, parseAddress, parsePrefix, prefix } from '../addressing'
import {
  inPlan,
  holdsPort,
  MANAGED,
  own,
  PROVIDER_LAN,
  weekWords,
  type Device,
  type Segment,
  type Service,
  type WirelessNetwork,
} from '../plan'
import {
  atOnce,
  compilePolicy,
  decideAmong,
  rulesBetween,
  type Family,
  type Forwarding,
  type Rule,
  type RuleSet,
} from '../policy'
import {
  addressTrouble,
  carriageOf,
  heardFrom,
  isolationOf,
  keepsApart,
  outcomeOf,
  pathOf,
  type Arrival,
  type Form,
  type SiteModel,
  wayOutTrouble,
} from '../topology'

export type Endpoint =
  | { readonly kind: 'device'; readonly id: string }
  | { readonly kind: 'segment'; readonly id: string }
  | { readonly kind: 'internet' }
  /** The provider's own network on the line; nobody asks from there. */
  | { readonly kind: 'provider' }
  /** The gateway's own pages and services. */
  | { readonly kind: 'gateway' }
  /** The address of the line, at the ports of a port forward. */
  | { readonly kind: 'forward'; readonly id: string }

export interface TraceHop {
  readonly layer: 'host' | 'cable' | 'radio' | 'route' | 'rule' | 'nat' | 'line'
  readonly text: string
  readonly deviceId?: string
  readonly portId?: string
  readonly ruleId?: string
}

export interface Trace {
  readonly verdict: 'delivered' | 'blocked' | 'broken'
  /** What decided: the rule that lets it pass or drops it, or the place where it is lost. */
  readonly decidedBy: {
    readonly kind: 'rule' | 'route' | 'cable' | 'isolation' | 'line' | 'address'
    readonly id: string
    readonly text: string
  }
  readonly hops: readonly TraceHop[]
}

class Lost extends Error {
  constructor(
    readonly decidedBy: Trace['decidedBy'],
    readonly verdict: 'blocked' | 'broken',
  ) {
    super(decidedBy.text)
  }
}

interface Located {
  readonly segment: Segment
  readonly arrival: Arrival | undefined
  readonly device: Device | undefined
}

/**
 * @param minute of the week in the site's time zone; without it a connection gets through where it
 * does so at all times
 */
export function trace(
  model: SiteModel,
  from: Endpoint,
  to: Endpoint,
  service: Pick<Service, 'id' | 'name' | 'protocol' | 'ports'>,
  family: Family = 'ipv4',
  minute: number | null = null,
): Trace {
  const hops: TraceHop[] = []
  try {
    return {
      ...(to.kind === 'forward'
        ? followForward(model, from, to.id, family, hops)
        : follow(model, from, to, service, family, minute, hops)),
      hops,
    }
  } catch (error) {
    if (error instanceof Lost) return { verdict: error.verdict, decidedBy: error.decidedBy, hops }
    throw error
  }
}

function follow(
  model: SiteModel,
  from: Endpoint,
  to: Exclude<Endpoint, { kind: 'forward' }>,
  service: Pick<Service, 'protocol' | 'ports'>,
  family: Family,
  minute: number | null,
  hops: TraceHop[],
): Omit<Trace, 'hops'> {
  const neighbours = family === 'ipv4' ? asNeighbours(model, from, to, hops) : undefined
  if (neighbours) return neighbours
  const source =
    from.kind !== 'device' && from.kind !== 'segment'
      ? undefined
      : locate(model, from, hops, 'source')
  const target =
    to.kind !== 'device' && to.kind !== 'segment'
      ? undefined
      : locate(model, to, undefined, 'target')
  if (source && target && source.segment.id === target.segment.id)
    return sameSegment(model, source, target, hops)

  if (!model.gateway)
    throw new Lost(
      {
        kind: 'route',
        id: 'no-gateway',
        text: 'the plan has no gateway to route between segments',
      },
      'broken',
    )
  const gatewayId = model.gateway.id
  if (from.kind === 'internet') arriveFromLine(model, hops)
  else if (source) {
    if (family === 'ipv6' && !source.segment.subnet6)
      throw new Lost(
        {
          kind: 'address',
          id: source.segment.id,
          text: `${source.segment.name} has no IPv6 subnet`,
        },
        'broken',
      )
    if (family === 'ipv4' && (!source.segment.gateway || !source.segment.subnet))
      throw new Lost(
        {
          kind: 'address',
          id: source.segment.id,
          text: `${source.segment.name} has no subnet and gateway yet`,
        },
        'broken',
      )
    if (family === 'ipv4') needsWayOut(source)
    if (source.arrival) walk(model, source.arrival, hops, 'up')
    if (family === 'ipv4' && isOnBothSides(model, source.segment))
      throw new Lost(
        {
          kind: 'route',
          id: source.segment.id,
          text: `${source.segment.subnet} is on both sides of the gateway`,
        },
        'broken',
      )
  }
  if (target && family === 'ipv4') needsWayOut(target)

  const fromPlace = from.kind === 'internet' ? 'internet' : placeOf(source!)
  const toPlace =
    to.kind === 'gateway'
      ? MANAGED
      : to.kind === 'internet'
        ? 'internet'
        : to.kind === 'provider'
          ? PROVIDER_LAN
          : placeOf(target!)
  if (to.kind === 'gateway')
    hops.push({ layer: 'route', deviceId: gatewayId, text: 'the address is the gateway itself' })
  else hops.push(routeHop(model, gatewayId, to, target, family))

  const set = compilePolicy(model.plan)
  const forward =
    from.kind === 'internet' && family === 'ipv4' && target?.device && target.arrival
      ? forwardFor(set, target.device.id, service)
      : undefined
  if (forward) hops.push(...forwardHops(model, forward, false))
  const decided = forward
    ? ruleOf(set, forward)
    : decidedBy(rulesBetween(set, fromPlace, toPlace, family), service, minute)
  hops.push({
    layer: 'rule',
    deviceId: gatewayId,
    ruleId: decided.id,
    text: `${decided.verdict === 'accept' ? 'let through' : 'dropped'}: ${decided.text}`,
  })
  if (decided.verdict === 'drop')
    throw new Lost({ kind: 'rule', id: decided.id, text: decided.text }, 'blocked')

  if (to.kind === 'internet' || to.kind === 'provider')
    leaveByLine(model, source?.segment, family, hops)
  else if (target) {
    if (target.arrival) walk(model, target.arrival, hops, 'down')
    else if (target.device) throw lostOnCable(model, target)
    if (target.device)
      hops.push({
        layer: 'host',
        deviceId: target.device.id,
        text: `${target.device.name} answers`,
      })
  }
  return { verdict: 'delivered', decidedBy: { kind: 'rule', id: decided.id, text: decided.text } }
}

/**
 * What decides: at one minute, or at all times; where it is let through at some only, that is said.
 */
function decidedBy(
  rules: readonly Rule[],
  service: Pick<Service, 'protocol' | 'ports'>,
  minute: number | null,
): Rule {
  if (minute !== null) return atOnce(rules, service, minute).rule
  const { rule, hours } = decideAmong(rules, service)
  return hours ? { ...rule, verdict: 'drop', text: `let through ${weekWords(hours)} only` } : rule
}

/**
 * A host in the segment that it was planned for is that host to the rules; elsewhere it is one of
 * many.
 */
const placeOf = ({ segment, device }: Located): string =>
  device && device.addressing.segmentId === segment.id ? device.id : segment.id

/** Two ports of the line that lead to the same one of a host have one rule. */
const ruleOf = (set: RuleSet, { protocol, inside, address, segmentId }: Forwarding): Rule =>
  set.rules.find(
    (r) =>
      r.forwarded === 'only' &&
      r.protocol === protocol &&
      r.to.includes(segmentId) &&
      r.destinations?.prefixes[0] === `${address}/32` &&
      holdsPort(r.ports, inside),
  )!

/**
 * The port forward that leads to a service of a host; undefined where not all of its ports are led
 * to.
 */
function forwardFor(
  set: RuleSet,
  deviceId: string,
  { protocol, ports }: Pick<Service, 'protocol' | 'ports'>,
): Forwarding | undefined {
  const to = (first: number, last: number): Forwarding | undefined =>
    set.forwards.find(
      (f) =>
        f.deviceId === deviceId &&
        f.protocol === protocol &&
        f.inside <= first &&
        last <= f.inside + f.outside.last - f.outside.first,
    )
  const each = ports.map((p) => (typeof p === 'number' ? to(p, p) : to(p.first, p.last)))
  return each.length > 0 && each.every((f) => f) ? each[0] : undefined
}

/** @param isNeighbour asked from the host's own segment */
function forwardHops(model: SiteModel, f: Forwarding, isNeighbour: boolean): TraceHop[] {
  const port = `${f.protocol} ${f.outside.first}${f.outside.last > f.outside.first ? `-${f.outside.last}` : ''}`
  return [
    {
      layer: 'nat',
      deviceId: model.gateway!.id,
      text: `${port} of the line leads to ${f.address}, port ${f.inside} (${f.name})`,
    },
    ...(isNeighbour
      ? [
          {
            layer: 'nat' as const,
            deviceId: model.gateway!.id,
            text:
              "is asked with the gateway's address, since both are in one segment and the " +
              'answer has to come back this way',
          },
        ]
      : []),
  ]
}

/** By the address of the line, from outside or, turned round at the gateway, from inside. */
function followForward(
  model: SiteModel,
  from: Endpoint,
  forwardId: string,
  family: Family,
  hops: TraceHop[],
): Omit<Trace, 'hops'> {
  const planned = own(model.plan.forwards, forwardId)
  if (!planned)
    throw new Lost(
      { kind: 'address', id: forwardId, text: `there is no port forward '${forwardId}'` },
      'broken',
    )
  if (family === 'ipv6')
    throw new Lost(
      {
        kind: 'address',
        id: forwardId,
        text: 'port forwards are for IPv4; over IPv6 hosts have addresses of their own',
      },
      'broken',
    )
  if (!model.gateway)
    throw new Lost(
      { kind: 'route', id: 'no-gateway', text: 'the plan has no gateway that could forward' },
      'broken',
    )
  let asking: string | undefined
  if (from.kind === 'device' || from.kind === 'segment') {
    const source = locate(model, from, hops, 'source')
    asking = source.segment.id
    if (!source.segment.gateway || !source.segment.subnet)
      throw new Lost(
        {
          kind: 'address',
          id: source.segment.id,
          text: `${source.segment.name} has no subnet and gateway yet`,
        },
        'broken',
      )
    if (source.arrival) walk(model, source.arrival, hops, 'up')
    if (!model.wayOut)
      throw new Lost(
        {
          kind: 'line',
          id: 'none',
          text: 'no uplink is connected, so there is no address of the line',
        },
        'broken',
      )
  } else {
    arriveFromLine(model, hops)
    const kind = model.wayOut!.handOff.addressKind
    if (kind === 'private' || kind === 'carrier-grade')
      throw new Lost(
        {
          kind: 'line',
          id: model.wayOut!.id,
          text:
            `the address of ${model.wayOut!.name} is ` +
            `${kind === 'private' ? 'private' : 'behind carrier-grade NAT'}: nobody outside ` +
            'reaches it',
        },
        'broken',
      )
  }
  const set = compilePolicy(model.plan)
  const forward = set.forwards.find((f) => f.id === forwardId)
  if (!forward)
    throw new Lost(
      {
        kind: 'address',
        id: planned.deviceId,
        text:
          `${model.device(planned.deviceId).name} has no address that is known, or ` +
          'another forward has the port',
      },
      'broken',
    )
  hops.push(...forwardHops(model, forward, asking === forward.segmentId))
  const target = locate(model, { kind: 'device', id: forward.deviceId }, undefined, 'target')
  hops.push(
    routeHop(model, model.gateway.id, { kind: 'device', id: forward.deviceId }, target, 'ipv4'),
  )
  const rule = ruleOf(set, forward)
  hops.push({
    layer: 'rule',
    deviceId: model.gateway.id,
    ruleId: rule.id,
    text: `let through: ${rule.text}`,
  })
  if (!target.arrival || target.segment.id !== forward.segmentId)
    throw lostOnCable(model, {
      segment: model.segment(forward.segmentId),
      device: target.device,
    })
  walk(model, target.arrival, hops, 'down')
  hops.push({ layer: 'host', deviceId: forward.deviceId, text: `${target.device!.name} answers` })
  return { verdict: 'delivered', decidedBy: { kind: 'rule', id: rule.id, text: rule.text } }
}

/**
 * Two hosts with typed addresses of one subnet need neither gateway nor lease: they talk wherever
 * their frames reach each other, be it on a
 * switch that is cut off from the rest. Undefined where that is not the case, or where the gateway
 * hears them as well and the usual way says more.
 */
function asNeighbours(
  model: SiteModel,
  from: Endpoint,
  to: Endpoint,
  hops: TraceHop[],
): Omit<Trace, 'hops'> | undefined {
  if (from.kind !== 'device' || to.kind !== 'device') return undefined
  const [a, b] = [model.plan.devices[from.id], model.plan.devices[to.id]]
  if (
    !a ||
    !b ||
    a.wirelessNetworkId ||
    b.wirelessNetworkId ||
    a.addressing.segmentId !== b.addressing.segmentId ||
    !a.addressing.segmentId
  )
    return undefined
  if ([a, b].some((d) => d.addressing.mode !== 'fixed' || model.profileOf(d.id).vlan !== 'none'))
    return undefined
  const segment = model.segment(a.addressing.segmentId)
  const isPlanned = (d: Device): boolean =>
    carriageOf(model, segment.id)
      .at(d.id)
      .some((x) => x.inside === 'untagged')
  if (isPlanned(a) && isPlanned(b)) return undefined
  if (!heardFrom(model, a.id).has(b.id) || !heardFrom(model, b.id).has(a.id)) return undefined
  hops.push(
    { layer: 'host', deviceId: a.id, text: `${a.name} asks its neighbour` },
    { layer: 'host', deviceId: b.id, text: `${b.name} answers` },
  )
  return {
    verdict: 'delivered',
    decidedBy: {
      kind: 'route',
      id: segment.id,
      text:
        `both have typed addresses of ${segment.subnet} and hear each other, although ` +
        `${model.vlanName(segment.id)} does not reach both from the gateway`,
    },
  }
}

/**
 * The segment that an endpoint really sits in: for a host with a lease, the one whose untagged
 * frames reach its socket.
 */
function locate(
  model: SiteModel,
  end: Extract<Endpoint, { kind: 'device' | 'segment' }>,
  hops: TraceHop[] | undefined,
  role: 'source' | 'target',
): Located {
  if (end.kind === 'segment') {
    const segment = model.plan.segments[end.id]
    if (!segment)
      throw new Lost(
        { kind: 'address', id: end.id, text: `there is no segment '${end.id}'` },
        'broken',
      )
    hops?.push({ layer: 'host', text: `a host in ${segment.name} asks` })
    return { segment, arrival: undefined, device: undefined }
  }
  const device = model.plan.devices[end.id]
  if (!device)
    throw new Lost(
      { kind: 'address', id: end.id, text: `there is no device '${end.id}'` },
      'broken',
    )
  const planned = device.addressing.segmentId
    ? model.plan.segments[device.addressing.segmentId]
    : undefined
  if (!planned)
    throw new Lost(
      { kind: 'address', id: device.id, text: `${device.name} is in no segment yet` },
      'broken',
    )
  hops?.push({ layer: 'host', deviceId: device.id, text: `${device.name} asks` })
  if (device.wirelessNetworkId) return onAir(model, device, role, hops)
  const managed = model.profileOf(device.id).vlan === 'managed'
  const wanted = (s: Segment): Form => (managed ? s.vlanId : 'untagged')
  const there = (s: Segment): Arrival | undefined =>
    carriageOf(model, s.id)
      .at(device.id)
      .find((a) => a.inside === wanted(s))
  const arrival = there(planned)
  if (arrival) return { segment: planned, arrival, device: usable(model, device, planned) }
  const other =
    device.addressing.mode !== 'fixed' && !managed
      ? model.segments.find((s) => there(s))
      : undefined
  if (other) {
    hops?.push({
      layer: 'cable',
      deviceId: device.id,
      text: `its socket carries ${model.vlanName(other.id)}, not ${model.vlanName(planned.id)}`,
    })
    return { segment: other, arrival: there(other), device }
  }
  if (role === 'source') throw lostOnCable(model, { segment: planned, device })
  return { segment: planned, arrival: undefined, device }
}

/** The device itself, where it can live with its address. */
function usable(model: SiteModel, device: Device, segment: Segment): Device {
  const trouble = addressTrouble(model, device, segment)
  if (trouble) throw new Lost({ kind: 'address', id: device.id, text: trouble }, 'broken')
  return device
}

/** A host that leaves its segment, or answers beyond it, needs the gateway of the segment. */
function needsWayOut({ device, segment }: Located): void {
  const trouble =
    device && device.addressing.segmentId === segment.id ? wayOutTrouble(device, segment) : null
  if (trouble) throw new Lost({ kind: 'address', id: device!.id, text: trouble }, 'broken')
}

/** A network that is beyond a line too leads to nobody, from whichever side. */
function isOnBothSides(model: SiteModel, segment: Segment): boolean {
  const own = segment.subnet ? parsePrefix(segment.subnet) : undefined
  return (
    own !== undefined &&
    model.lines.some((u) => {
      const theirs = u.handOff.providerLan
      const p = theirs && theirs !== 'none' ? parsePrefix(theirs) : undefined
      return p !== undefined && overlaps(own, p)
    })
  )
}

function onAir(
  model: SiteModel,
  device: Device,
  role: 'source' | 'target',
  hops: TraceHop[] | undefined,
): Located {
  const network = inPlan(model.plan.wirelessNetworks, device.wirelessNetworkId!)
  const segment = model.segment(network.segmentId)
  for (const apId of network.accessPointIds) {
    const arrival = carriageOf(model, segment.id)
      .at(apId)
      .find((a) => a.inside === segment.vlanId)
    if (!arrival) continue
    hops?.push({
      layer: 'radio',
      deviceId: apId,
      text: `joins '${network.name}' on ${model.device(apId).name}, lands in ${model.vlanName(segment.id)}`,
    })
    return { segment, arrival, device }
  }
  if (role === 'source')
    throw new Lost(
      {
        kind: 'cable',
        id: network.id,
        text: `no access point both sends '${network.name}' and gets ${model.vlanName(segment.id)}`,
      },
      'broken',
    )
  return { segment, arrival: undefined, device }
}

function lostOnCable(model: SiteModel, at: { segment: Segment; device: Device | undefined }): Lost {
  const device = at.device!
  const found = outcomeOf(model, {
    segmentId: at.segment.id,
    deviceId: device.id,
    why: 'host',
  }).break
  const where = found?.portId ?? model.portsOf(device.id)[0]!.id
  return new Lost(
    {
      kind: 'cable',
      id: where,
      text: `${model.vlanName(at.segment.id)} stops at ${model.portName(where)}: ${found?.kind ?? 'not carried'}`,
    },
    'broken',
  )
}

const formWords = (form: Form): string => (form === 'untagged' ? 'untagged' : `tagged ${form}`)

/** The cables between the gateway and a place, in the direction of travel. */
function walk(
  model: SiteModel,
  arrival: Arrival,
  hops: TraceHop[],
  direction: 'up' | 'down',
): void {
  const path = pathOf(arrival).filter((a) => a.inPortId !== null)
  for (const a of direction === 'down' ? path : path.reverse()) {
    const [leave, enter] =
      direction === 'down' ? [a.outPortId!, a.inPortId!] : [a.inPortId!, a.outPortId!]
    hops.push({
      layer: 'cable',
      deviceId: model.port(enter).deviceId,
      portId: enter,
      text: `${model.portName(leave)} to ${model.portName(enter)}, ${formWords(a.form)}`,
    })
  }
}

function sameSegment(
  model: SiteModel,
  source: Located,
  target: Located,
  hops: TraceHop[],
): Omit<Trace, 'hops'> {
  if (target.device && !target.arrival) throw lostOnCable(model, target)
  const isolating = (at: Located): WirelessNetwork | undefined => {
    const w = model.plan.wirelessNetworks[at.device?.wirelessNetworkId ?? '']
    return w?.clientIsolation ? w : undefined
  }
  const leak =
    isolating(source) && isolating(target)
      ? isolationOf(model).leaks.find((l) => l.segmentId === source.segment.id)
      : undefined
  if (
    !leak &&
    source.arrival &&
    target.arrival &&
    keepsApart(
      model,
      source.segment.vlanId,
      { arrival: source.arrival, isOnAir: isolating(source) !== undefined },
      { arrival: target.arrival, isOnAir: isolating(target) !== undefined },
    )
  ) {
    const network = isolating(source) ?? isolating(target)
    throw new Lost(
      {
        kind: 'isolation',
        id: network?.id ?? source.segment.id,
        text: network
          ? `'${network.name}' keeps its clients apart`
          : `the sockets that lead to them are kept apart in ${source.segment.name}`,
      },
      'blocked',
    )
  }
  const up = source.arrival ? pathOf(source.arrival) : []
  const down = target.arrival ? pathOf(target.arrival) : []
  let common = 0
  while (common < up.length && common < down.length && up[common] === down[common]) common++
  for (const a of up.slice(common).reverse())
    if (a.inPortId)
      hops.push({
        layer: 'cable',
        deviceId: a.before!.deviceId,
        portId: a.outPortId!,
        text: `${model.portName(a.inPortId)} to ${model.portName(a.outPortId!)}, ${formWords(a.form)}`,
      })
  for (const a of down.slice(common))
    if (a.inPortId)
      hops.push({
        layer: 'cable',
        deviceId: a.deviceId,
        portId: a.inPortId,
        text: `${model.portName(a.outPortId!)} to ${model.portName(a.inPortId)}, ${formWords(a.form)}`,
      })
  if (target.device)
    hops.push({ layer: 'host', deviceId: target.device.id, text: `${target.device.name} answers` })
  if (leak) {
    const [a, b] = leak.between.map((id) => model.device(id).name)
    return {
      verdict: 'delivered',
      decidedBy: {
        kind: 'isolation',
        id: leak.atDeviceId,
        text:
          `kept apart on one access point, but not between ${a} and ${b}: ` +
          `${model.device(leak.atDeviceId).name} lets them hear each other`,
      },
    }
  }
  return {
    verdict: 'delivered',
    decidedBy: {
      kind: 'route',
      id: source.segment.id,
      text: `both are in ${source.segment.name}; the gateway's rules do not see it`,
    },
  }
}

function routeHop(
  model: SiteModel,
  gatewayId: string,
  to: Endpoint,
  target: Located | undefined,
  family: Family,
): TraceHop {
  if (to.kind === 'internet' || to.kind === 'provider') {
    if (!model.wayOut)
      throw new Lost(
        {
          kind: 'route',
          id: 'default',
          text: 'no uplink is connected, so there is no default route',
        },
        'broken',
      )
    if (family === 'ipv6' && model.wayOut.handOff.ipv6 === 'none')
      throw new Lost(
        { kind: 'line', id: model.wayOut.id, text: `${model.wayOut.name} carries no IPv6` },
        'broken',
      )
    return {
      layer: 'route',
      deviceId: gatewayId,
      portId: model.wayOut.portId,
      text: `${to.kind === 'provider' ? 'beyond' : 'default route, out of'} ${model.portName(model.wayOut.portId)}`,
    }
  }
  const segment = target!.segment
  if (family === 'ipv6') {
    if (!segment.subnet6)
      throw new Lost(
        { kind: 'address', id: segment.id, text: `${segment.name} has no IPv6 subnet` },
        'broken',
      )
    return {
      layer: 'route',
      deviceId: gatewayId,
      text: `${segment.subnet6} is connected as ${model.vlanName(segment.id)}`,
    }
  }
  if (!segment.subnet)
    throw new Lost(
      { kind: 'address', id: segment.id, text: `${segment.name} has no subnet yet` },
      'broken',
    )
  // A reservation holds in its own segment only; a host that landed elsewhere has a lease of there.
  const planned = target?.device?.addressing
  const address =
    planned && (planned.mode === 'fixed' || planned.segmentId === segment.id)
      ? planned.address
      : null
  const parsed = address ? parseAddress(address) : undefined
  if (parsed && !containsAddress(prefix(segment.subnet), parsed))
    throw new Lost(
      {
        kind: 'address',
        id: target!.device!.id,
        text: `${address} does not lie in ${segment.subnet}`,
      },
      'broken',
    )
  if (isOnBothSides(model, segment))
    throw new Lost(
      { kind: 'route', id: segment.id, text: `${segment.subnet} is on both sides of the gateway` },
      'broken',
    )
  return {
    layer: 'route',
    deviceId: gatewayId,
    text: `${segment.subnet} is connected as ${model.vlanName(segment.id)}`,
  }
}

function leaveByLine(
  model: SiteModel,
  segment: Segment | undefined,
  family: Family,
  hops: TraceHop[],
): void {
  const uplink = model.wayOut!
  if (segment && family === 'ipv4') {
    const address = uplink.handOff.address?.split('/')[0] ?? 'the address that the line gives'
    hops.push({ layer: 'nat', deviceId: model.gateway!.id, text: `leaves with ${address}` })
  }
  const tag = uplink.handOff.vlan
  hops.push({
    layer: 'line',
    text: `${uplink.name}${tag === null || tag === 'untagged' ? '' : `, tagged ${tag}`}`,
  })
}

function arriveFromLine(model: SiteModel, hops: TraceHop[]): void {
  if (!model.wayOut)
    throw new Lost({ kind: 'line', id: 'none', text: 'no uplink is connected' }, 'broken')
  hops.push({ layer: 'line', text: `in by ${model.wayOut.name}` })
}
