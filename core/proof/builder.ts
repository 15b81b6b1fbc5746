/**
 * Where disciplines put the tests that they have of a plan. A "must not" proves something only where
 * its target is shown to answer somebody who may ask it: each has a control, another test of the
 * same target that must work, and where there is none, one is added from a neighbour of the target
 * or from the gateway itself.
 */
import type { Probe } from '@mast/protocol'
import {
  placeName,
  tellingPorts,
  weekWords,
  type Device,
  type Segment,
  type Service,
  type WeekSpan,
} from '../plan'
import { decideService, type Protocol } from '../policy'
import type { SiteModel } from '../topology'
import type { ProofTest } from './proofTest'

type Given = Pick<
  ProofTest,
  'id' | 'title' | 'kind' | 'from' | 'fromPlace' | 'toPlace' | 'expected' | 'because'
> &
  Partial<ProofTest>
/** What only some probes say. */
type Special =
  | ('via' | 'targetVia' | 'octets' | 'spot' | 'sessionMinutes' | 'bridge')
  | ('inside' | 'idleSeconds' | 'without' | 'exit')
type Asked = Omit<Probe, 'id' | 'from' | Special> & Partial<Pick<Probe, Special>>
const blank = { via: null, targetVia: null, octets: null }

/** What was decided, and by what. */
export interface Verdict {
  readonly allowed: boolean
  readonly hours: readonly WeekSpan[] | null
  readonly rule: { readonly text: string; readonly intentId?: string | null }
}
/** Where device pages answer (HTTPS; common practice of devices with a page). */
export const PAGE_PORT = 443

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

export class ProofBuilder {
  private readonly all: ProofTest[] = []
  private readonly ids = new Set<string>()
  /** Hosts and the controller, which can be asked to ask. */
  readonly hosts: readonly Device[]
  /** One of them for each segment and way of joining it. */
  readonly asking: readonly Device[]

  constructor(readonly model: SiteModel) {
    this.hosts = model.devices.filter(
      (d) => ['host', 'controller'].includes(model.profileOf(d.id).kind) && d.addressing.segmentId,
    )
    this.asking = representatives(model, this.hosts)
  }

  readonly add = (given: Given, probe: Asked | null): void => {
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

  segmentOf(d: Device): Segment {
    return this.model.segment(d.addressing.segmentId!)
  }

  lease(host: Device): Pick<ProofTest, 'subnet' | 'address' | 'server'> {
    const s = this.segmentOf(host)
    return {
      subnet: s.subnet,
      address: host.addressing.mode === 'reserved' ? host.addressing.address : null,
      server:
        s.dhcp.mode === 'server' ? s.gateway : s.dhcp.mode === 'relay' ? s.dhcp.relayTo : null,
    }
  }

  /** What a host answers to: pings, and what it offers. */
  offeredBy(target: Device): Service[] {
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

  services(asking: Device, target: Device, services: readonly Service[]): void {
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

  decide(from: string, to: string, protocol: Protocol, port: number | null): Verdict {
    return decideService(this.model.plan, from, to, {
      id: 'asked',
      name: 'asked',
      protocol,
      ports: port === null ? [] : [port],
    })
  }

  push(
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

  withControls(): ProofTest[] {
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
                  : target.kind === 'peer'
                    ? `peer ${target.peerId}`
                    : target.kind === 'address'
                      ? target.address
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
        !t.probe.idleSeconds &&
        !t.probe.without &&
        // Whoever comes by a tunnel shows less than a neighbour.
        !this.model.plan.peers[t.from] &&
        t.kind !== 'lease' &&
        !working.has(targetOf(t))
      )
        working.set(targetOf(t), t)
    }
    this.all.forEach(note)
    const needs = (t: ProofTest): boolean => t.expected === 'blocked' || t.hours !== null
    for (const t of this.all.filter(needs)) {
      if (working.has(targetOf(t))) continue
      this.control(t)
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
  private control(t: ProofTest): void {
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
    const asked = this.model.device(target.deviceId)
    // A client of a network that isolates hears no neighbour on the air.
    const neighbour = this.hosts.find(
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
export const isPublic = ({ wayOut }: SiteModel): boolean =>
  !['private', 'carrier-grade'].includes(wayOut?.handOff.addressKind ?? '')

/** A wired host that offers something is the most telling target. */
export function targetIn(hosts: readonly Device[]): Device | undefined {
  const worth = (d: Device): number => d.serviceIds.length * 2 + (d.wirelessNetworkId ? 0 : 1)
  return [...hosts].sort((a, b) => worth(b) - worth(a) || (a.id < b.id ? -1 : 1))[0]
}
