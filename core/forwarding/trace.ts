/**
 * The fate of one new connection on the plan: every hop from the asking host to the answering one,
 * and the rule, route or cable that decides. Layer 2 follows the carriage, layer 3 the gateway's
 * connected networks and its default route, then the rules, then NAT.
 */
import { MANAGED, PROVIDER_LAN, type Service } from '../plan'
import { compilePolicy, rulesBetween, type Family } from '../policy'
import type { SiteModel } from '../topology'
import { byProvider, leaveByProvider } from './byProvider'
import { decided, placeOf } from './decided'
import { Lost, type Endpoint, type Trace, type TraceHop } from './fate'
import { locate, lostOnCable, needsWayOut } from './locate'
import { asNeighbours, sameSegment } from './neighbours'
import { followForward, forwardFor, forwardHops, ruleOf } from './portForward'
import { throughTunnel } from './throughTunnel'
import { arriveFromLine, leaveByLine, leaveSegment, lineHop, routeHop, walk, waysOf } from './way'

/**
 * @param minute of the week in the site's time zone; without it a connection gets through where it
 * does so at all times
 * @param dead ids of lines that lead nowhere
 */
export function trace(
  model: SiteModel,
  from: Endpoint,
  to: Endpoint,
  service: Pick<Service, 'id' | 'name' | 'protocol' | 'ports'>,
  family: Family = 'ipv4',
  minute: number | null = null,
  dead: ReadonlySet<string> = new Set(),
): Trace {
  const hops: TraceHop[] = []
  try {
    return {
      ...(to.kind === 'forward'
        ? followForward(model, from, to.id, family, dead, hops)
        : follow(model, from, to, service, family, minute, dead, hops)),
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
  dead: ReadonlySet<string>,
  hops: TraceHop[],
): Omit<Trace, 'hops'> {
  if (from.kind === 'peer' || to.kind === 'peer')
    return throughTunnel(model, from, to, service, family, minute, dead, hops)
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
  if (from.kind === 'internet') arriveFromLine(model, dead, hops)
  else if (source) leaveSegment(model, source, family, hops)
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
  const exit =
    to.kind === 'internet' && source && family === 'ipv4'
      ? byProvider(model, source, hops)
      : undefined
  const ways =
    to.kind === 'internet' || to.kind === 'provider'
      ? waysOf(model, source?.segment, service, family, dead)
      : undefined
  if (to.kind === 'gateway')
    hops.push({ layer: 'route', deviceId: gatewayId, text: 'the address is the gateway itself' })
  else if (exit)
    hops.push({ layer: 'line', text: `to ${exit.tunnel.name} by ${ways![0].line.name}` })
  else if (ways) hops.push(lineHop(model, gatewayId, to, ways[0].line))
  else hops.push(routeHop(model, gatewayId, target, family))

  const set = compilePolicy(model.plan)
  const forward =
    from.kind === 'internet' && family === 'ipv4' && target?.device && target.arrival
      ? forwardFor(set, target.device.id, service)
      : undefined
  if (forward) hops.push(...forwardHops(model, forward, false))
  const rule = forward
    ? ruleOf(set, forward)
    : decided(rulesBetween(set, fromPlace, toPlace, family), service, minute)
  hops.push({
    layer: 'rule',
    deviceId: gatewayId,
    ruleId: rule.id,
    text: `${rule.verdict === 'accept' ? 'let through' : 'dropped'}: ${rule.text}`,
  })
  if (rule.verdict === 'drop')
    throw new Lost({ kind: 'rule', id: rule.id, text: rule.text }, 'blocked')

  if (exit) leaveByProvider(exit, hops)
  else if (ways) leaveByLine(model, source?.segment, family, ways, hops)
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
  return { verdict: 'delivered', decidedBy: { kind: 'rule', id: rule.id, text: rule.text } }
}
