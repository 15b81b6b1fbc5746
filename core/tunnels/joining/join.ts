/**
 * Sites of one team joined by tunnels, over a hub or all with all: one tunnel in each plan, with
 * addresses of one network that meets nothing at any of them, and a peer for each site it speaks to.
 * What stands in the way is told, and then nothing is changed.
 */
import {
  collapse,
  formatAddress,
  formatPrefix,
  overlaps,
  parsePrefix,
  usableHosts,
  usableRange,
  type Prefix,
} from '../../addressing'
import {
  applyEdits,
  editCall,
  freeNetworkAmong,
  idFor,
  idsOf,
  newId,
  takenForTunnels,
  type EditCall,
  type SitePlan,
} from '../../plan'
import { siteModel } from '../../topology'
import { freeTunnelPort } from '../freePort'
import { reckonTunnel, type Callable } from '../reckoned'

export type Shape = 'hub' | 'all'
export interface JoinedSite {
  readonly id: string
  readonly name: string
  readonly plan: SitePlan
}
export interface OwnKey {
  readonly publicKey: string
  readonly privateKeyRef: string
}
/** Makes keys and keeps their secret halves; each is asked for once. */
export interface KeyMaker {
  /** Of a tunnel's own end. */
  own(siteId: string, tunnelId: string): OwnKey
  /** One that two sites share. @returns the names under which each keeps it */
  shared(a: JoinedPeer, b: JoinedPeer): readonly [string, string]
}
export interface JoinedPeer {
  readonly siteId: string
  readonly peerId: string
}
export interface Joining {
  /** Empty where there are problems. */
  readonly edits: ReadonlyMap<string, readonly EditCall[]>
  readonly problems: readonly string[]
}

/** A peer holds no more networks. */
const MOST_NETWORKS = 64

interface End {
  readonly site: JoinedSite
  readonly tunnelId: string
  readonly hostDeviceId: string
  readonly listenPort: number
  readonly address: string
  readonly own: readonly Prefix[]
  readonly endpoint: Pick<SitePlan['tunnels'][string], 'endpointName' | 'dynamicName'>
  readonly called: Callable | null
  readonly whyNot: string | null
}

/** What others may be led to; guests are no part of it. */
const offered = (plan: SitePlan): Prefix[] =>
  Object.values(plan.segments).flatMap((s) =>
    s.purpose === 'guests' || !s.subnet ? [] : (parsePrefix(s.subnet) ?? []),
  )

/** Networks that meet at any two of them, or that a site knows from elsewhere. */
function meetings(sites: readonly JoinedSite[]): string[] {
  // What a plan says of the far end of a tunnel is what such a tunnel is to lead to.
  const here = (plan: SitePlan): SitePlan => ({
    ...plan,
    knownNetworks: Object.fromEntries(
      Object.entries(plan.knownNetworks).filter(([, n]) => n.kind !== 'joined'),
    ),
  })
  const taken = new Map(sites.map((s) => [s.id, takenForTunnels(here(s.plan), null)]))
  return sites.flatMap((a) =>
    sites.flatMap((b) => {
      if (a === b) return []
      const met = offered(b.plan).find((n) => taken.get(a.id)!.some((t) => overlaps(n, t)))
      return met
        ? [`${formatPrefix(met)} of ${b.name} is in use at ${a.name}, or a way leads there already`]
        : []
    }),
  )
}

/** @param sites the hub first, where there is one */
export function joinSites(sites: readonly JoinedSite[], shape: Shape, keys: KeyMaker): Joining {
  const none = (problems: readonly string[]): Joining => ({ edits: new Map(), problems })
  const problems = [
    ...sites.flatMap((s) => (siteModel(s.plan).gateway ? [] : [`${s.name} has no gateway`])),
    ...sites.flatMap((s) =>
      offered(s.plan).length > 0 ? [] : [`${s.name} has no network that others could reach`],
    ),
    ...meetings(sites),
  ]
  const subnet = freeNetworkAmong(sites.flatMap((s) => takenForTunnels(s.plan, null)))
  if (!subnet) problems.push('no network is free at all of them for the tunnels')
  else if (usableHosts(parsePrefix(subnet)!) < BigInt(sites.length))
    problems.push(`${subnet} has no room for ${sites.length} sites`)
  if (problems.length > 0 || !subnet) return none(problems)

  const ends = sites.map((s, n) => endOf(s, subnet, n))
  const links = ends.flatMap((a, i) =>
    ends
      .slice(i + 1)
      .flatMap((b): (readonly [End, End])[] => (shape === 'all' || i === 0 ? [[a, b]] : [])),
  )
  const unheard = links.flatMap(([a, b]) =>
    a.called || b.called
      ? []
      : [
          `neither ${a.site.name} nor ${b.site.name} can be called: ${a.whyNot ?? ''}; ${b.whyNot ?? ''}`,
        ],
  )
  if (unheard.length > 0) return none(unheard)
  return written(ends, links, shape, subnet, keys)
}

function endOf(site: JoinedSite, subnet: string, nth: number): End {
  const { plan } = site
  const hostDeviceId = siteModel(plan).gateway!.id
  // Under the name by which it is found already.
  const named = Object.values(plan.tunnels).find((t) => t.isActive && t.endpointName !== null)
  const endpoint = {
    endpointName: named?.endpointName ?? null,
    dynamicName: named?.dynamicName ?? null,
  }
  const base = {
    ...{ site, hostDeviceId, endpoint, own: offered(plan), listenPort: freeTunnelPort(plan) },
    tunnelId: newId(plan, 'Our sites'),
    address: formatAddress({
      family: 4,
      value: usableRange(parsePrefix(subnet)!).first + BigInt(nth),
    }),
  }
  const made = applyEdits(plan, [tunnelEdit(base, subnet)])
  const { called, whyNot } = reckonTunnel(siteModel(made), made.tunnels[base.tunnelId]!)
  return { ...base, called, whyNot }
}

const tunnelEdit = (e: Omit<End, 'called' | 'whyNot'>, subnet: string, key?: OwnKey): EditCall =>
  editCall('addTunnel', {
    ...{ id: e.tunnelId, name: 'Our sites', kind: 'sites', hostDeviceId: e.hostDeviceId },
    ...{ subnet, address: e.address, listenPort: e.listenPort },
    ...e.endpoint,
    ...key,
  })

function written(
  ends: readonly End[],
  links: readonly (readonly [End, End])[],
  shape: Shape,
  subnet: string,
  keys: KeyMaker,
): Joining {
  const keyOf = new Map(ends.map((e) => [e, keys.own(e.site.id, e.tunnelId)]))
  const edits = new Map<string, EditCall[]>()
  const given = new Map(ends.map((e) => [e.site.id, idsOf(e.site.plan).add(e.tunnelId)]))
  const problems: string[] = []
  const add = (e: End, edit: EditCall): void => {
    edits.set(e.site.id, [...(edits.get(e.site.id) ?? []), edit])
  }
  const idAt = ({ site }: End, name: string): string => {
    const taken = given.get(site.id)!
    const id = idFor(name, taken)
    taken.add(id)
    return id
  }
  for (const e of ends) add(e, tunnelEdit(e, subnet, keyOf.get(e)))
  const hub = shape === 'hub' ? ends[0] : undefined
  for (const [a, b] of links) {
    const ids = [
      { siteId: a.site.id, peerId: idAt(a, b.site.name) },
      { siteId: b.site.id, peerId: idAt(b, a.site.name) },
    ] as const
    const refs = keys.shared(ids[0], ids[1])
    for (const [n, [here, there]] of [[a, b] as const, [b, a] as const].entries()) {
      // Behind the hub lie all others too.
      const behind =
        there === hub ? ends.filter((e) => e !== here).flatMap((e) => e.own) : there.own
      const networks = collapse(behind).map(formatPrefix)
      if (networks.length > MOST_NETWORKS)
        problems.push(
          `${here.site.name} would have ${networks.length} networks behind ${there.site.name}, and ` +
            `${MOST_NETWORKS} go: join all with all, or give the sites numbers that lie side by side`,
        )
      else
        add(
          here,
          editCall('addPeer', {
            ...{ id: ids[n]!.peerId, name: there.site.name, tunnelId: here.tunnelId },
            ...{ device: 'gateway', address: there.address, siteId: there.site.id },
            ...{ publicKey: keyOf.get(there)!.publicKey, sharedKeyRef: refs[n] },
            ...{ networks, endpoint: there.called },
          }),
        )
    }
  }
  return problems.length > 0 ? { edits: new Map(), problems } : { edits, problems }
}
