/** The tests that a plan implies, from every segment, of both kinds: what must work and what must not. */
import type { Probe } from '@mast/protocol'
import type { Device, Place, Service } from '../plan'
import { decideService, mayAdminister, placeName } from '../policy'
import type { SiteModel } from '../topology'

export interface ProofTest {
  readonly id: string
  readonly title: string
  /** `service` asks the controller whether a device is in service; the others are probes from a host. */
  readonly kind: 'service' | Probe['kind']
  /** A device id, or `internet`. */
  readonly from: string
  /** Where the asking host belongs; the row of the grid. */
  readonly fromPlace: Place
  /** The column of the grid. */
  readonly toPlace: Place | 'gateway' | 'controller'
  readonly expected: 'works' | 'blocked'
  /** For a lease: the subnet, and the address where one is reserved. */
  readonly subnet: string | null
  readonly address: string | null
  /** The decision that it tests, in words. */
  readonly because: string
  readonly probe: Probe | null
}

export function proofTestsOf(model: SiteModel): ProofTest[] {
  const tests: ProofTest[] = []
  for (const d of model.devices)
    if (model.profileOf(d.id).adoptable)
      tests.push({
        id: `${d.id}:service`, title: `${d.name} is in service`, kind: 'service', from: d.id, fromPlace: d.addressing.segmentId ?? 'internet', toPlace: 'controller',
        expected: 'works', subnet: null, address: null, because: 'it is in the plan', probe: null,
      })
  const hosts = model.devices.filter((d) => ['host', 'controller'].includes(model.profileOf(d.id).kind) && d.addressing.segmentId)
  for (const host of hosts) tests.push(...ownSegmentTests(model, host))
  for (const asking of representatives(model, hosts)) tests.push(...pairTests(model, asking, hosts))
  tests.push(...fromInternet(model))
  return tests
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

function ownSegmentTests(model: SiteModel, host: Device): ProofTest[] {
  const segment = model.plan.segments[host.addressing.segmentId!]!
  const base = { from: host.id, fromPlace: segment.id, toPlace: 'gateway' as const, expected: 'works' as const, subnet: null, address: null }
  const probe = (kind: Probe['kind'], target: Probe['target'] = null, port: number | null = null): Probe => ({ id: `${host.id}:${kind}`, from: host.id, kind, target, port })
  const out: ProofTest[] = []
  if (host.addressing.mode !== 'fixed')
    out.push({ ...base, id: `${host.id}:lease`, kind: 'lease', title: `${host.name} gets an address in ${segment.name}`, subnet: segment.subnet,
      address: host.addressing.mode === 'reserved' ? host.addressing.address : null, because: `it belongs to ${model.vlanName(segment.id)}`, probe: probe('lease') })
  out.push({ ...base, id: `${host.id}:ping`, kind: 'ping', title: `${host.name} reaches its gateway`, because: 'every segment may ping its gateway', probe: probe('ping', { kind: 'own-gateway' }) })
  return out
}

function pairTests(model: SiteModel, asking: Device, hosts: readonly Device[]): ProofTest[] {
  const { plan } = model
  const own = plan.segments[asking.addressing.segmentId!]!
  const out: ProofTest[] = []
  const push = (key: string, title: string, toPlace: ProofTest['toPlace'], allowed: boolean, because: string, probe: Omit<Probe, 'id' | 'from'>): void => {
    const id = `${asking.id}:${key}`
    out.push({ id, title: `${asking.name} ${allowed ? 'reaches' : 'must not reach'} ${title}`, kind: probe.kind, from: asking.id, fromPlace: own.id, toPlace, expected: allowed ? 'works' : 'blocked',
      subnet: null, address: null, because, probe: { id, from: asking.id, ...probe } })
  }
  const admin = mayAdminister(own)
  push('page', 'the gateway\'s page', 'gateway', admin, admin ? 'only management opens device pages' : 'device pages are for management only', { kind: 'tcp', target: { kind: 'own-gateway' }, port: 443 })
  if (model.uplink?.portId) {
    push('name', 'the name service', 'gateway', true, 'every segment may ask for names', { kind: 'name', target: null, port: null })
    const web = plan.services['svc-web']
    if (web) {
      const { allowed, rule } = decideService(plan, own.id, 'internet', web)
      push('internet', 'the web on the internet', 'internet', allowed, rule.text, { kind: 'tcp', target: { kind: 'internet' }, port: 443 })
    }
  }
  for (const other of model.segments) {
    if (other.id === own.id) continue
    const target = targetIn(model, hosts.filter((h) => h.addressing.segmentId === other.id))
    if (!target) continue
    const asked: Service[] = [...(plan.services['svc-ping'] ? [plan.services['svc-ping']] : []), ...target.serviceIds.map((id) => plan.services[id]!)]
    for (const service of new Map(asked.map((s) => [s.id, s])).values()) {
      if (service.protocol === 'udp') continue
      const { allowed, rule } = decideService(plan, own.id, other.id, service)
      push(`${target.id}:${service.id}`, `${service.name} on ${target.name} in ${placeName(plan, other.id)}`, other.id, allowed, rule.text,
        { kind: service.protocol === 'icmp' ? 'ping' : 'tcp', target: { kind: 'host', deviceId: target.id }, port: service.ports[0] ?? null })
    }
  }
  return out
}

/** A wired host that offers something is the most telling target. */
function targetIn(model: SiteModel, hosts: readonly Device[]): Device | undefined {
  const worth = (d: Device): number => d.serviceIds.length * 2 + (d.wirelessNetworkId ? 0 : 1)
  return [...hosts].sort((a, b) => worth(b) - worth(a) || (a.id < b.id ? -1 : 1))[0]
}

function fromInternet(model: SiteModel): ProofTest[] {
  if (!model.uplink?.portId) return []
  const base = { from: 'internet', fromPlace: 'internet' as const, toPlace: 'gateway' as const, expected: 'blocked' as const, subnet: null, address: null, because: 'nothing else reaches the gateway itself' }
  return [
    { ...base, id: 'internet:page', kind: 'tcp', title: 'The internet must not reach the gateway\'s page', probe: { id: 'internet:page', from: 'internet', kind: 'tcp', target: { kind: 'line' }, port: 443 } },
    { ...base, id: 'internet:ping', kind: 'ping', title: 'The internet must not ping the gateway', probe: { id: 'internet:ping', from: 'internet', kind: 'ping', target: { kind: 'line' }, port: null } },
  ]
}
