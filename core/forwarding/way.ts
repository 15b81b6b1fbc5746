/** The way through cables, gateway and line, hop by hop. */
import { containsAddress, overlaps, parseAddress, parsePrefix, prefix } from '../addressing'
import { inPlan, type Segment, type Service, type Uplink } from '../plan'
import type { Family } from '../policy'
import { pathOf, type Arrival, type Form, type SiteModel } from '../topology'
import { choiceFor, lineGroups, waysOut, type Way } from '../uplinks'
import { Lost, type Endpoint, type Located, type TraceHop } from './fate'
import { needsWayOut } from './locate'

export const formWords = (form: Form): string =>
  form === 'untagged' ? 'untagged' : `tagged ${form}`

/** The cables between the gateway and a place, in the direction of travel. */
export function walk(
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

/** A host's own side: over its gateway, up the cables to it. */
export function leaveSegment(
  model: SiteModel,
  source: Located,
  family: Family,
  hops: TraceHop[],
): void {
  const { segment } = source
  const lost = (kind: 'address' | 'route', text: string): Lost =>
    new Lost({ kind, id: segment.id, text }, 'broken')
  if (family === 'ipv6' && !segment.subnet6)
    throw lost('address', `${segment.name} has no IPv6 subnet`)
  if (family === 'ipv4') {
    if (!segment.gateway || !segment.subnet)
      throw lost('address', `${segment.name} has no subnet and gateway yet`)
    needsWayOut(source)
  }
  if (source.arrival) walk(model, source.arrival, hops, 'up')
  if (family === 'ipv4' && isOnBothSides(model, segment))
    throw lost('route', `${segment.subnet} is on both sides of the gateway`)
}

/**
 * The lines that carry what leaves, the one with the largest share first.
 * @param dead ids of lines that lead nowhere
 */
export function waysOf(
  model: SiteModel,
  segment: Segment | undefined,
  service: Pick<Service, 'protocol' | 'ports'>,
  family: Family,
  dead: ReadonlySet<string>,
): readonly [Way, ...Way[]] {
  if (!model.wayOut)
    throw new Lost(
      {
        kind: 'route',
        id: 'default',
        text: 'no uplink is connected, so there is no default route',
      },
      'broken',
    )
  const groups = lineGroups(model, segment?.id ?? null, service)
  const [first, ...others] = waysOut(groups, dead).sort((a, b) => b.share - a.share)
  if (!first) {
    const choice = segment && choiceFor(model.plan, segment.id, service)
    const names = choice?.uplinkIds.map((id) => inPlan(model.plan.uplinks, id).name) ?? []
    const state = groups.length > 0 ? 'dead' : 'in a socket'
    throw new Lost(
      choice
        ? {
            kind: 'route',
            id: choice.id,
            text:
              names.length === 0
                ? `${segment.name} may leave by no line`
                : `${segment.name} may leave by ${names.join(', ')} alone` +
                  (groups.length > 0
                    ? `, and ${names.length === 1 ? 'it is' : 'all of them are'} ${state}`
                    : `, and none of it is ${state}`),
          }
        : { kind: 'line', id: model.wayOut.id, text: 'every line is dead' },
      'broken',
    )
  }
  if (family === 'ipv6' && first.line.handOff.ipv6 === 'none')
    throw new Lost(
      { kind: 'line', id: first.line.id, text: `${first.line.name} carries no IPv6` },
      'broken',
    )
  return [first, ...others]
}

export const lineHop = (
  model: SiteModel,
  gatewayId: string,
  to: Endpoint,
  { portId }: Uplink,
): TraceHop => ({
  layer: 'route',
  deviceId: gatewayId,
  portId: portId!,
  text: `${to.kind === 'provider' ? 'beyond' : 'default route, out of'} ${model.portName(portId!)}`,
})

export function routeHop(
  model: SiteModel,
  gatewayId: string,
  target: Located | undefined,
  family: Family,
): TraceHop {
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

export function leaveByLine(
  model: SiteModel,
  segment: Segment | undefined,
  family: Family,
  [{ line: uplink }, ...others]: readonly [Way, ...Way[]],
  hops: TraceHop[],
): void {
  if (segment && family === 'ipv4') {
    const address = uplink.handOff.address?.split('/')[0] ?? 'the address that the line gives'
    hops.push({ layer: 'nat', deviceId: model.gateway!.id, text: `leaves with ${address}` })
  }
  const tag = uplink.handOff.vlan
  hops.push({
    layer: 'line',
    text:
      `${uplink.name}${tag === null || tag === 'untagged' ? '' : `, tagged ${tag}`}` +
      others.map((o) => `, or ${o.line.name}: ${Math.round(o.share * 100)} % of it`).join(''),
  })
}

export function arriveFromLine(
  model: SiteModel,
  dead: ReadonlySet<string>,
  hops: TraceHop[],
): Uplink {
  if (!model.wayOut)
    throw new Lost({ kind: 'line', id: 'none', text: 'no uplink is connected' }, 'broken')
  const line = model.lines.find((u) => u.portId !== null && !dead.has(u.id))
  if (!line)
    throw new Lost({ kind: 'line', id: model.wayOut.id, text: 'every line is dead' }, 'broken')
  hops.push({ layer: 'line', text: `in by ${line.name}` })
  return line
}
