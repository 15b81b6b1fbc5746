/**
 * What a schema cannot say of a plan: ids that agree with their keys, references that lead
 * somewhere, sockets used once.
 */
import type { Patch as PlanPatch } from 'immer'
import {
  ANYWHERE,
  collections,
  MANAGED,
  portIdOf,
  PROVIDER_LAN,
  type Collection,
  type SitePlan,
} from './schema'

export interface PlanProblem {
  readonly path: readonly (string | number)[]
  readonly reason: string
}

const singular: Record<Collection, string> = {
  locations: 'location',
  profiles: 'profile',
  devices: 'device',
  ports: 'port',
  links: 'link',
  segments: 'segment',
  uplinks: 'uplink',
  wirelessNetworks: 'wireless network',
  services: 'service',
  groups: 'group',
  intents: 'intent',
  forwards: 'port forward',
  knownNetworks: 'known network',
}

/** Places of intents that are no entity of the plan, and the kinds of entities that are places. */
const fixedPlaces: ReadonlySet<string> = new Set(['internet', PROVIDER_LAN, MANAGED, ANYWHERE])
const placeKinds = ['segments', 'devices', 'groups'] as const

/** Ids are unique over all kinds. */
export const isIdTaken = (plan: SitePlan, id: string): boolean =>
  collections.some((c) => Object.hasOwn(plan[c], id))

type Say = (path: (string | number)[], reason: string) => void
type Refer = (path: (string | number)[], to: Collection, id: string | null) => void
/** What can be said of one entity, given the rest of the plan. */
type Look<C extends Collection> = (
  id: string,
  entity: SitePlan[C][string],
  plan: SitePlan,
  say: Say,
  refer: Refer,
) => void

const looks: { readonly [C in Collection]?: Look<C> } = {
  profiles: (id, p, _, say) =>
    p.ports.forEach((q, i) => {
      if (q.licenceId !== null && !p.licences.some((l) => l.id === q.licenceId))
        say(
          ['profiles', id, 'ports', i, 'licenceId'],
          `the profile has no licence '${q.licenceId}'`,
        )
    }),
  devices: (id, d, plan, say, refer) => {
    const at = ['devices', id]
    refer([...at, 'profileId'], 'profiles', d.profileId)
    refer([...at, 'locationId'], 'locations', d.locationId)
    refer([...at, 'addressing', 'segmentId'], 'segments', d.addressing.segmentId)
    refer([...at, 'wirelessNetworkId'], 'wirelessNetworks', d.wirelessNetworkId)
    d.serviceIds.forEach((s, i) => refer([...at, 'serviceIds', i], 'services', s))
    const profile = plan.profiles[d.profileId]
    d.licencesHeld.forEach((l, i) => {
      if (profile && !profile.licences.some((x) => x.id === l))
        say([...at, 'licencesHeld', i], `the profile '${profile.name}' has no licence '${l}'`)
    })
    for (const p of profile?.ports ?? [])
      if (!plan.ports[portIdOf(id, p.name)])
        say(
          at,
          `its profile has a port '${p.name}' but the plan has no port '${portIdOf(id, p.name)}'`,
        )
  },
  ports: (id, p, plan, say, refer) => {
    const at = ['ports', id]
    refer([...at, 'deviceId'], 'devices', p.deviceId)
    refer([...at, 'untaggedSegmentId'], 'segments', p.untaggedSegmentId)
    p.taggedSegmentIds.forEach((s, i) => refer([...at, 'taggedSegmentIds', i], 'segments', s))
    if (new Set(p.taggedSegmentIds).size !== p.taggedSegmentIds.length)
      say([...at, 'taggedSegmentIds'], 'a segment stands here twice')
    if (id !== portIdOf(p.deviceId, p.name))
      say(
        at,
        `the port '${p.name}' of '${p.deviceId}' must have the id '${portIdOf(p.deviceId, p.name)}'`,
      )
    const profile = plan.profiles[plan.devices[p.deviceId]?.profileId ?? '']
    if (profile && !profile.ports.some((q) => q.name === p.name))
      say(at, `the profile '${profile.name}' has no port '${p.name}'`)
  },
  links: (id, l, plan, say, refer) => {
    for (const end of ['a', 'b'] as const) refer(['links', id, end], 'ports', l[end])
    if (plan.ports[l.a] && plan.ports[l.a]?.deviceId === plan.ports[l.b]?.deviceId)
      say(['links', id], 'both ends are on the same device')
  },
  segments: (id, s, _, say) => {
    if (id === 'internet')
      say(['segments', id], 'a segment cannot have the id internet, which is a place of its own')
    if (s.dhcp.mode === 'relay' && s.dhcp.relayTo === null)
      say(['segments', id, 'dhcp', 'relayTo'], 'a relay needs the address of the server')
  },
  uplinks: (id, u, _, __, refer) => refer(['uplinks', id, 'portId'], 'ports', u.portId),
  wirelessNetworks: (id, w, _, __, refer) => {
    refer(['wirelessNetworks', id, 'segmentId'], 'segments', w.segmentId)
    w.accessPointIds.forEach((a, i) =>
      refer(['wirelessNetworks', id, 'accessPointIds', i], 'devices', a),
    )
  },
  services: (id, s, _, say) => {
    const hasPorts = ['tcp', 'udp', 'sctp'].includes(s.protocol)
    if (!hasPorts && s.ports.length > 0)
      say(['services', id, 'ports'], `${s.protocol.toUpperCase()} has no ports`)
    if (hasPorts && s.ports.length === 0)
      say(['services', id, 'ports'], 'at least one port is needed')
  },
  intents: (id, intent, plan, say, refer) => {
    for (const end of ['from', 'to'] as const)
      if (
        !fixedPlaces.has(intent[end]) &&
        !placeKinds.some((c) => Object.hasOwn(plan[c], intent[end]))
      )
        say(['intents', id, end], `there is no segment, device or group '${intent[end]}'`)
    if (intent.service !== 'any') refer(['intents', id, 'service'], 'services', intent.service)
    if (intent.from === intent.to && intent.from !== ANYWHERE)
      say(
        ['intents', id],
        'from and to are the same; traffic inside a segment does not pass the gateway',
      )
  },
  groups: (id, g, plan, say) => {
    g.memberIds.forEach((m, i) => {
      if (!Object.hasOwn(plan.devices, m) && !Object.hasOwn(plan.segments, m))
        say(['groups', id, 'memberIds', i], `there is no device or segment '${m}'`)
    })
    if (new Set(g.memberIds).size !== g.memberIds.length)
      say(['groups', id, 'memberIds'], 'a member stands here twice')
  },
  forwards: (id, f, _, say, refer) => {
    refer(['forwards', id, 'deviceId'], 'devices', f.deviceId)
    if (f.inside + f.outside.last - f.outside.first > 65_535)
      say(['forwards', id, 'inside'], 'the ports inside run beyond 65535')
    if (f.outside.last > f.outside.first && f.inside !== f.outside.first)
      say(
        ['forwards', id, 'inside'],
        'several ports keep their numbers; state each one that changes its number on its own',
      )
  },
}

/** A socket takes one cable, whether a link or a line. */
function socketsUsedOnce(plan: SitePlan, say: Say): void {
  const linkAt = new Map<string, string>()
  for (const [id, l] of Object.entries(plan.links))
    for (const end of ['a', 'b'] as const) {
      const other = linkAt.get(l[end])
      if (other)
        say(['links', id, end], `the port '${l[end]}' has the link '${other}' in it already`)
      linkAt.set(l[end], id)
    }
  for (const [id, u] of Object.entries(plan.uplinks)) {
    const link = u.portId && linkAt.get(u.portId)
    if (link)
      say(['uplinks', id, 'portId'], `the port '${u.portId}' has the link '${link}' in it already`)
  }
}

function idUsedOnce(plan: SitePlan, collection: Collection, id: string, say: Say): void {
  const own = plan[collection][id]!.id
  if (own !== id) say([collection, id, 'id'], `the id '${own}' differs from its key '${id}'`)
  const other = collections
    .slice(0, collections.indexOf(collection))
    .find((c) => Object.hasOwn(plan[c], id))
  if (other) say([collection, id], `the id '${id}' is used by a ${singular[other]} already`)
}

/** Looks at the entities that are given, and at the sockets and the controller where asked. */
function problemsOf(
  plan: SitePlan,
  idsOf: (c: Collection) => Iterable<string>,
  isTouched: (top: 'links' | 'uplinks' | 'controller' | 'site') => boolean,
): PlanProblem[] {
  const problems: PlanProblem[] = []
  const say: Say = (path, reason) => void problems.push({ path, reason })
  const refer: Refer = (path, to, id) => {
    if (id !== null && !Object.hasOwn(plan[to], id))
      say(path, `there is no ${singular[to]} '${id}'`)
  }
  const each = <C extends Collection>(collection: C): void => {
    const look = looks[collection] as Look<C> | undefined
    const entities = plan[collection] as Record<string, SitePlan[C][string]>
    for (const id of idsOf(collection)) {
      idUsedOnce(plan, collection, id, say)
      look?.(id, entities[id]!, plan, say, refer)
    }
  }
  collections.forEach((c) => each(c))
  if (isTouched('links') || isTouched('uplinks')) socketsUsedOnce(plan, say)
  if (isTouched('controller'))
    refer(['controller', 'hostDeviceId'], 'devices', plan.controller.hostDeviceId)
  if (isTouched('site'))
    refer(
      ['site', 'preferences', 'spanningTreeRootId'],
      'devices',
      plan.site.preferences.spanningTreeRootId,
    )
  return problems
}

export const referenceProblems = (plan: SitePlan): PlanProblem[] =>
  problemsOf(
    plan,
    (c) => Object.keys(plan[c]),
    () => true,
  )

/** Collections whose entities nothing refers to. */
const unreferred: ReadonlySet<unknown> = new Set<Collection>([
  'links',
  'uplinks',
  'intents',
  'forwards',
  'knownNetworks',
])
/** Fields that decide what other entities have to look like. */
const deciding: ReadonlySet<string> = new Set([
  'devices.profileId',
  'ports.deviceId',
  'profiles.ports',
  'profiles.licences',
])

/**
 * The same for a plan that differs from one without problems only by these patches. Where something
 * goes that others may refer to, or what
 * devices are made of changes, that is the whole plan; else it is what the patches touch.
 */
export function referenceProblemsAfter(
  plan: SitePlan,
  patches: readonly PlanPatch[],
): PlanProblem[] {
  const touched = new Map<unknown, Set<string>>()
  for (const {
    op,
    path: [top, id, field],
  } of patches) {
    const isWide =
      top !== 'site' &&
      top !== 'controller' &&
      (field === undefined
        ? op === 'replace' || (op === 'remove' && !unreferred.has(top))
        : field === 'id' || deciding.has(`${top}.${field}`))
    if (isWide) return referenceProblems(plan)
    // A new id may stand elsewhere already.
    const at =
      field === undefined && op === 'add'
        ? collections.filter((c) => c === top || Object.hasOwn(plan[c], String(id)))
        : [top]
    for (const c of at) touched.set(c, (touched.get(c) ?? new Set()).add(String(id)))
  }
  return problemsOf(
    plan,
    (c) => [...(touched.get(c) ?? [])].filter((id) => Object.hasOwn(plan[c], id)),
    (top) => touched.has(top),
  )
}
