/** What a schema cannot say of a plan: ids that agree with their keys, references that lead somewhere, sockets used once. */
import { collections, portIdOf, type Collection, type SitePlan } from './schema'

export interface PlanProblem {
  readonly path: readonly (string | number)[]
  readonly reason: string
}

const singular: Record<Collection, string> = {
  locations: 'location', profiles: 'profile', devices: 'device', ports: 'port', links: 'link', segments: 'segment',
  uplinks: 'uplink', wirelessNetworks: 'wireless network', services: 'service', intents: 'intent', knownNetworks: 'known network',
}

/**
 * What the answers depend on beside the entity itself: which ids there are, and of which profile each device is. Equal ids give the same object, so
 * that an entity that was found good stays good without being looked at again, as long as neither changed.
 */
interface Context { readonly ids: Readonly<Record<Collection, readonly string[]>>; readonly profiles: SitePlan['profiles']; readonly profileOfDevice: readonly string[] }
const MEMORY = 4
const contexts: Context[] = []
const sameList = (a: readonly string[], b: readonly string[]): boolean => a.length === b.length && a.every((x, i) => x === b[i])

function contextOf(plan: SitePlan): Context {
  const ids = Object.fromEntries(collections.map((c) => [c, Object.keys(plan[c])])) as unknown as Context['ids']
  const profileOfDevice = Object.values(plan.devices).map((d) => d.profileId)
  const known = contexts.find((c) => c.profiles === plan.profiles && sameList(c.profileOfDevice, profileOfDevice) && collections.every((x) => sameList(c.ids[x], ids[x])))
  if (known) return known
  const context = { ids, profiles: plan.profiles, profileOfDevice }
  contexts.unshift(context)
  contexts.length = Math.min(contexts.length, MEMORY)
  return context
}
const good = new WeakMap<object, Context>()

export function referenceProblems(plan: SitePlan): PlanProblem[] {
  const problems: PlanProblem[] = []
  const context = contextOf(plan)
  const say = (path: (string | number)[], reason: string): void => void problems.push({ path, reason })
  const refer = (path: (string | number)[], to: Collection, id: string | null): void => {
    if (id !== null && !Object.hasOwn(plan[to], id)) say(path, `there is no ${singular[to]} '${id}'`)
  }
  /** Looks at an entity unless it was good in the same surroundings. */
  const each = <T extends object>(map: Record<string, T>, look: (id: string, entity: T) => void): void => {
    for (const [id, entity] of Object.entries(map)) {
      // Only what can no longer change is taken on its word.
      if (good.get(entity) === context && Object.isFrozen(entity)) continue
      const before = problems.length
      look(id, entity)
      if (problems.length === before) good.set(entity, context)
    }
  }

  for (const collection of collections)
    for (const [key, entity] of Object.entries(plan[collection])) if (entity.id !== key) say([collection, key, 'id'], `the id '${entity.id}' differs from its key '${key}'`)
  if (good.get(context) !== context) {
    const owner = new Map<string, Collection>()
    for (const collection of collections)
      for (const key of context.ids[collection]) {
        const other = owner.get(key)
        if (other) say([collection, key], `the id '${key}' is used by a ${singular[other]} already`)
        else owner.set(key, collection)
      }
    if (problems.length === 0) good.set(context, context)
  }

  each(plan.devices, (id, d) => {
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
  })
  each(plan.ports, (id, p) => {
    const at = ['ports', id]
    refer([...at, 'deviceId'], 'devices', p.deviceId)
    refer([...at, 'untaggedSegmentId'], 'segments', p.untaggedSegmentId)
    p.taggedSegmentIds.forEach((s, i) => refer([...at, 'taggedSegmentIds', i], 'segments', s))
    if (new Set(p.taggedSegmentIds).size !== p.taggedSegmentIds.length) say([...at, 'taggedSegmentIds'], 'a segment stands here twice')
    if (id !== portIdOf(p.deviceId, p.name)) say(at, `the port '${p.name}' of '${p.deviceId}' must have the id '${portIdOf(p.deviceId, p.name)}'`)
    const profile = plan.profiles[plan.devices[p.deviceId]?.profileId ?? '']
    if (profile && !profile.ports.some((q) => q.name === p.name)) say(at, `the profile '${profile.name}' has no port '${p.name}'`)
  })
  for (const [id, p] of Object.entries(plan.profiles))
    p.ports.forEach((q, i) => { if (q.licenceId !== null && !p.licences.some((l) => l.id === q.licenceId)) say(['profiles', id, 'ports', i, 'licenceId'], `the profile has no licence '${q.licenceId}'`) })
  for (const [id, s] of Object.entries(plan.segments))
    if (s.dhcp.mode === 'relay' && s.dhcp.relayTo === null) say(['segments', id, 'dhcp', 'relayTo'], 'a relay needs the address of the server')
  const linkAt = new Map<string, string>()
  for (const [id, l] of Object.entries(plan.links)) {
    for (const end of ['a', 'b'] as const) {
      refer(['links', id, end], 'ports', l[end])
      const other = linkAt.get(l[end])
      if (other) say(['links', id, end], `the port '${l[end]}' has the link '${other}' in it already`)
      linkAt.set(l[end], id)
    }
    if (plan.ports[l.a] && plan.ports[l.a]?.deviceId === plan.ports[l.b]?.deviceId) say(['links', id], 'both ends are on the same device')
  }
  for (const [id, u] of Object.entries(plan.uplinks)) {
    refer(['uplinks', id, 'portId'], 'ports', u.portId)
    const link = u.portId && linkAt.get(u.portId)
    if (link) say(['uplinks', id, 'portId'], `the port '${u.portId}' has the link '${link}' in it already`)
  }
  for (const [id, w] of Object.entries(plan.wirelessNetworks)) {
    refer(['wirelessNetworks', id, 'segmentId'], 'segments', w.segmentId)
    w.accessPointIds.forEach((a, i) => refer(['wirelessNetworks', id, 'accessPointIds', i], 'devices', a))
  }
  for (const [id, intent] of Object.entries(plan.intents)) {
    if (intent.from !== 'internet') refer(['intents', id, 'from'], 'segments', intent.from)
    if (intent.to !== 'internet') refer(['intents', id, 'to'], 'segments', intent.to)
    if (intent.service !== 'any') refer(['intents', id, 'service'], 'services', intent.service)
    if (intent.from === intent.to) say(['intents', id], 'from and to are the same; traffic inside a segment does not pass the gateway')
  }
  for (const [id, s] of Object.entries(plan.services)) {
    if (s.protocol === 'icmp' && s.ports.length > 0) say(['services', id, 'ports'], 'ICMP has no ports')
    if (s.protocol !== 'icmp' && s.ports.length === 0) say(['services', id, 'ports'], 'at least one port is needed')
  }
  refer(['controller', 'hostDeviceId'], 'devices', plan.controller.hostDeviceId)
  return problems
}
