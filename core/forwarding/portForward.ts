/** Connections that a port forward turns to a host. */
import { holdsPort, own, type Service } from '../plan'
import { compilePolicy, type Family, type Forwarding, type Rule, type RuleSet } from '../policy'
import type { SiteModel } from '../topology'
import { Lost, type Endpoint, type Trace, type TraceHop } from './fate'
import { locate, lostOnCable, needsWayOut } from './locate'
import { arriveFromLine, leaveSegment, routeHop, walk } from './way'

/** Two ports of the line that lead to the same one of a host have one rule. */
export const ruleOf = (set: RuleSet, { protocol, inside, address, segmentId }: Forwarding): Rule =>
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
export function forwardFor(
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
export function forwardHops(model: SiteModel, f: Forwarding, isNeighbour: boolean): TraceHop[] {
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
export function followForward(
  model: SiteModel,
  from: Endpoint,
  forwardId: string,
  family: Family,
  dead: ReadonlySet<string>,
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
    leaveSegment(model, source, 'ipv4', hops)
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
    const line = arriveFromLine(model, dead, hops)
    const kind = line.handOff.addressKind
    if (kind === 'private' || kind === 'carrier-grade')
      throw new Lost(
        {
          kind: 'line',
          id: line.id,
          text:
            `the address of ${line.name} is ` +
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
  if (asking !== forward.segmentId) needsWayOut(target)
  hops.push(routeHop(model, model.gateway.id, target, 'ipv4'))
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
