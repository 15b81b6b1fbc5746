/** What a schema cannot say of a plan: ids that agree with their keys, references that lead somewhere, sockets used once. */
import type { Patch as PlanPatch } from 'immer'
import { collections, portIdOf, type Collection, type SitePlan } from './schema'

export interface PlanProblem {
  readonly path: readonly (string | number)[]
  readonly reason: string
}

const singular: Record<Collection, string> = {
  locations: 'location', profiles: 'profile', devices: 'device', ports: 'port', links: 'link', segments: 'segment',
  uplinks: 'uplink', wirelessNetworks: 'wireless network', services: 'service', intents: 'intent', knownNetworks: 'known network',
}

type Say = (path: (string | number)[], reason: string) => void
type Refer = (path: (string | number)[], to: Collection, id: string | null) => void
/** What can be said of one entity, given the rest of the plan. */
type Look<C extends Collection> = (id: string, entity: SitePlan[C][string], plan: SitePlan, say: Say, refer: Refer) => void

const looks: { readonly [C in Collection]?: Look<C> } = {
  profiles: (id, p, _, say) =>
    p.ports.forEach((q, i) => { if (q.licenceId !== null && !p.licences.some((l) => l.id === q.licenceId)) say(['profiles', id, 'ports', i, 'licenceId'], `the profile has no licence '${q.licenceId}'`) }),
  devices: (id, d, plan, say, refer) => {
    const at = ['devices', id]
    refer([...at, 'profileId'], 'profiles', d.profileId)
    refer([...at, 'locationId'], 'locations', d.locationId)
    refer([...at, 'addressing', 'segmentId'], 'segments', d.addressing.segmentId)
    refer([...at, 'wirelessNetworkId'], 'wirelessNetworks', d.wirelessNetworkId)
    d.serviceIds.forEach((s, i) => refer([...at, 'serviceIds', i], 'services', s))
    const profile = plan.profiles[d.profileId]
    d.licencesHeld.forEach((l, i) => { if (profile && !profile.licences.some((x) => x.id === l)) say([...at, 'licencesHeld', i], `the profile '${profile.name}' has no licence '${l}'`) })
    for (const p of profile?.ports ?? [])
      if (!plan.ports[portIdOf(id, p.name)]) say(at, `its profile has a port '${p.name}' but the plan has no port '${portIdOf(id, p.name)}'`)
  },
  ports: (id, p, plan, say, refer) => {
    const at = ['ports', id]
    refer([...at, 'deviceId'], 'devices', p.deviceId)
    refer([...at, 'untaggedSegmentId'], 'segments', p.untaggedSegmentId)
    p.taggedSegmentIds.forEach((s, i) => refer([...at, 'taggedSegmentIds', i], 'segments', s))
    if (new Set(p.taggedSegmentIds).size !== p.taggedSegmentIds.length) say([...at, 'taggedSegmentIds'], 'a segment stands here twice')
    if (id !== portIdOf(p.deviceId, p.name)) say(at, `the port '${p.name}' of '${p.deviceId}' must have the id '${portIdOf(p.deviceId, p.name)}'`)
    const profile = plan.profiles[plan.devices[p.deviceId]?.profileId ?? '']
    if (profile && !profile.ports.some((q) => q.name === p.name)) say(at, `the profile '${profile.name}' has no port '${p.name}'`)
  },
  links: (id, l, plan, say, refer) => {
    for (const end of ['a', 'b'] as const) refer(['links', id, end], 'ports', l[end])
    if (plan.ports[l.a] && plan.ports[l.a]?.deviceId === plan.ports[l.b]?.deviceId) say(['links', id], 'both ends are on the same device')
  },
  segments: (id, s, _, say) => { if (s.dhcp.mode === 'relay' && s.dhcp.relayTo === null) say(['segments', id, 'dhcp', 'relayTo'], 'a relay needs the address of the server') },
  uplinks: (id, u, _, __, refer) => refer(['uplinks', id, 'portId'], 'ports', u.portId),
  wirelessNetworks: (id, w, _, __, refer) => {
    refer(['wirelessNetworks', id, 'segmentId'], 'segments', w.segmentId)
    w.accessPointIds.forEach((a, i) => refer(['wirelessNetworks', id, 'accessPointIds', i], 'devices', a))
  },
  services: (id, s, _, say) => {
    if (s.protocol === 'icmp' && s.ports.length > 0) say(['services', id, 'ports'], 'ICMP has no ports')
    if (s.protocol !== 'icmp' && s.ports.length === 0) say(['services', id, 'ports'], 'at least one port is needed')
  },
  intents: (id, intent, _, say, refer) => {
    if (intent.from !== 'internet') refer(['intents', id, 'from'], 'segments', intent.from)
    if (intent.to !== 'internet') refer(['intents', id, 'to'], 'segments', intent.to)
    if (intent.service !== 'any') refer(['intents', id, 'service'], 'services', intent.service)
    if (intent.from === intent.to) say(['intents', id], 'from and to are the same; traffic inside a segment does not pass the gateway')
  },
}

/** A socket takes one cable, whether a link or a line. */
function socketsUsedOnce(plan: SitePlan, say: Say): void {
  const linkAt = new Map<string, string>()
  for (const [id, l] of Object.entries(plan.links))
    for (const end of ['a', 'b'] as const) {
      const other = linkAt.get(l[end])
      if (other) say(['links', id, end], `the port '${l[end]}' has the link '${other}' in it already`)
      linkAt.set(l[end], id)
    }
  for (const [id, u] of Object.entries(plan.uplinks)) {
    const link = u.portId && linkAt.get(u.portId)
    if (link) say(['uplinks', id, 'portId'], `the port '${u.portId}' has the link '${link}' in it already`)
  }
}

function idsUsedOnce(plan: SitePlan, say: Say): void {
  const owner = new Map<string, Collection>()
  for (const collection of collections)
    for (const [key, entity] of Object.entries(plan[collection])) {
      if (entity.id !== key) say([collection, key, 'id'], `the id '${entity.id}' differs from its key '${key}'`)
      const other = owner.get(key)
      if (other) say([collection, key], `the id '${key}' is used by a ${singular[other]} already`)
      else owner.set(key, collection)
    }
}

function problemsOf(plan: SitePlan, isTouched: (top: Collection | 'ids' | 'controller') => boolean, idsOf: (c: Collection) => Iterable<string>): PlanProblem[] {
  const problems: PlanProblem[] = []
  const say: Say = (path, reason) => void problems.push({ path, reason })
  const refer: Refer = (path, to, id) => { if (id !== null && !Object.hasOwn(plan[to], id)) say(path, `there is no ${singular[to]} '${id}'`) }
  const each = <C extends Collection>(collection: C): void => {
    const look = looks[collection] as Look<C> | undefined
    const entities = plan[collection] as Record<string, SitePlan[C][string]>
    if (look) for (const id of idsOf(collection)) look(id, entities[id]!, plan, say, refer)
  }
  if (isTouched('ids')) idsUsedOnce(plan, say)
  collections.forEach((c) => each(c))
  if (isTouched('links') || isTouched('uplinks')) socketsUsedOnce(plan, say)
  if (isTouched('controller')) refer(['controller', 'hostDeviceId'], 'devices', plan.controller.hostDeviceId)
  return problems
}

export const referenceProblems = (plan: SitePlan): PlanProblem[] => problemsOf(plan, () => true, (c) => Object.keys(plan[c]))

/**
 * The same for a plan that differs from one without problems only by these patches. Where ids come or go, or what devices are made of changes,
 * that is the whole plan; else it is what the patches touch.
 */
export function referenceProblemsAfter(plan: SitePlan, patches: readonly PlanPatch[]): PlanProblem[] {
  const touched = new Map<string, Set<string>>()
  for (const { path: [top, id, field] } of patches) {
    if (top === 'site') continue
    const isWide = top !== 'controller' && (field === undefined || field === 'id' || top === 'profiles' || (top === 'devices' && field === 'profileId') || (top === 'ports' && field === 'deviceId'))
    if (isWide) return referenceProblems(plan)
    const ids = touched.get(String(top)) ?? new Set()
    touched.set(String(top), ids.add(String(id)))
  }
  return problemsOf(plan, (top) => touched.has(top), (c) => touched.get(c) ?? [])
}
