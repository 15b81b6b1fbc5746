/** Who reaches whom and who must not: pairs of segments, named hosts, the gateway, ports of the line. */
import { containsAddress, parseAddress, prefix } from '../addressing'
import { nameServersOf } from '../naming'
import {
  activeTunnels,
  inPlan,
  ANYWHERE,
  intentsInOrder,
  MANAGED,
  piecesOf,
  PROVIDER_LAN,
  tellingPorts,
  type Device,
  type Place,
  type Segment,
} from '../plan'
import { isPublic, PAGE_PORT, targetIn, type ProofBuilder, type Verdict } from '../proof/builder'
import type { ProofTest } from '../proof/proofTest'
import { compilePolicy } from './compile'
import { mayAdminister } from './compile'

/** Of one intent, on either side. */
const MOST_NAMED = 3

export function policyTests(proof: ProofBuilder): void {
  for (const host of proof.asking) pairs(proof, host, proof.hosts)
  named(proof)
  forwards(proof)
  fromInternet(proof)
}

function pairs(proof: ProofBuilder, asking: Device, hosts: readonly Device[]): void {
  const { plan } = proof.model
  const own = proof.segmentOf(asking)
  page(proof, asking)
  if (proof.model.wayOut) {
    const server = names(proof, asking, own)
    if (server)
      proof.push(asking, 'name', 'the name service', server.to, server.decision, {
        kind: 'name',
        target: null,
        port: null,
      })
    const web = plan.services['svc-web']
    for (const port of web ? tellingPorts(web.ports, []) : []) {
      proof.push(
        asking,
        port === PAGE_PORT ? 'internet' : `internet:${port}`,
        `the web on the internet${port === PAGE_PORT ? '' : `, port ${port}`}`,
        'internet',
        proof.decide(asking.id, 'internet', 'tcp', port),
        { kind: 'tcp', target: { kind: 'internet' }, port },
      )
    }
  }
  for (const other of proof.model.segments) {
    pages(proof, asking, own, other)
    if (other.id === own.id) continue
    const target = targetIn(hosts.filter((h) => h.addressing.segmentId === other.id))
    if (!target) continue
    proof.services(asking, target, proof.offeredBy(target))
  }
}

function page(proof: ProofBuilder, asking: Device): void {
  const page = proof.decide(asking.id, MANAGED, 'tcp', PAGE_PORT)
  proof.push(
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

/**
 * The pages of devices: all of them from where they may be opened, one of a segment from
 * elsewhere.
 */
function pages(proof: ProofBuilder, asking: Device, own: Segment, other: Segment): void {
  const devices = proof.model
    .membersOf(other.id)
    .filter((d) => proof.model.profileOf(d.id).adoptable && d.id !== proof.model.gateway?.id)
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
      : proof.decide(asking.id, d.id, 'tcp', PAGE_PORT)
    if (!decision.allowed && !decision.hours && shut++ > 0) continue
    proof.push(asking, `page:${d.id}`, `the page of ${d.name}`, other.id, decision, {
      kind: 'tcp',
      target: { kind: 'host', deviceId: d.id },
      port: PAGE_PORT,
    })
  }
}

/** Whom the host asks for names, and whether it may. A typed address asks its gateway. */
function names(
  proof: ProofBuilder,
  asking: Device,
  own: Segment,
): { to: ProofTest['toPlace']; decision: Verdict } | undefined {
  const [server] =
    asking.addressing.mode === 'fixed' ? [asking.addressing.gateway] : nameServersOf(own)
  const at = server ? parseAddress(server) : undefined
  if (!at) return undefined
  if (proof.model.segments.some((s) => s.gateway === server))
    return { to: 'gateway', decision: proof.decide(asking.id, MANAGED, 'udp', 53) }
  const home = proof.model.segments.find((s) => s.subnet && containsAddress(prefix(s.subnet), at))
  if (home?.id === own.id)
    return {
      to: home.id,
      decision: { allowed: true, hours: null, rule: { text: 'its name server is a neighbour' } },
    }
  return {
    to: home?.id ?? 'internet',
    decision: proof.decide(asking.id, home?.id ?? 'internet', 'udp', 53),
  }
}

/**
 * Hosts that intents name, by themselves or in a group, and what is said of the gateway itself.
 */
function named(proof: ProofBuilder): void {
  const { hosts } = proof
  const { plan } = proof.model
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
    const services = intent.service === 'any' ? undefined : [inPlan(plan.services, intent.service)]
    for (const asking of among(intent.from)) {
      if (intent.to === MANAGED) {
        page(proof, asking)
        for (const other of proof.model.segments)
          pages(proof, asking, proof.segmentOf(asking), other)
        continue
      }
      for (const target of among(intent.to))
        if (target.addressing.segmentId !== asking.addressing.segmentId)
          proof.services(
            asking,
            target,
            services?.filter((s) => target.serviceIds.includes(s.id) || s.protocol === 'icmp') ??
              proof.offeredBy(target),
          )
      if (intent.to === 'internet' || intent.to === ANYWHERE) pairs(proof, asking, [])
    }
  }
}

/** Ports of the line: from outside, and from inside by the same address. */
function forwards(proof: ProofBuilder): void {
  const { hosts } = proof
  const { plan, wayOut } = proof.model
  if (!wayOut || !isPublic(proof.model)) return
  for (const f of compilePolicy(plan).forwards) {
    // Who calls a tunnel is asked for the handshake: nobody else gets an answer.
    if (activeTunnels(plan).some((t) => t.hostDeviceId === f.deviceId && t.listenPort === f.inside))
      continue
    const device = inPlan(plan.devices, f.deviceId)
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
        because: inPlan(plan.forwards, f.id).reason || `the port leads to ${device.name}`,
      }
      proof.add(
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
        proof.add(
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

function fromInternet(proof: ProofBuilder): void {
  if (!proof.model.wayOut) return
  const ask = (id: string, what: string, protocol: 'tcp' | 'icmp', port: number | null): void => {
    const { allowed, hours, rule } = proof.decide('internet', MANAGED, protocol, port)
    // What is opened cannot be shown where nobody outside reaches the line at all.
    if ((allowed || hours) && !isPublic(proof.model)) return
    proof.add(
      {
        id,
        kind: protocol === 'icmp' ? 'ping' : protocol,
        title: `The internet ${allowed || hours ? 'reaches' : 'must not reach'} ${what}`,
        from: 'internet',
        fromPlace: 'internet',
        toPlace: 'gateway',
        expected: allowed || hours ? 'works' : 'blocked',
        hours: hours && { spans: hours, timeZone: proof.model.plan.site.timeZone },
        because: rule.text,
      },
      { kind: protocol === 'icmp' ? 'ping' : protocol, target: { kind: 'line' }, port },
    )
  }
  // Where the port leads on to a host it is not the gateway that answers.
  if (
    !compilePolicy(proof.model.plan).forwards.some(
      (f) => f.protocol === 'tcp' && f.outside.first <= PAGE_PORT && PAGE_PORT <= f.outside.last,
    )
  )
    ask('internet:page', "the gateway's page", 'tcp', PAGE_PORT)
  ask('internet:ping', 'the gateway by a ping', 'icmp', null)
}
