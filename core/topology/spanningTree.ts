/**
 * Which sockets the spanning tree of the managed bridges blocks (IEEE 802.1Q 13, one tree for all
 * VLANs): the root is the bridge with the lowest priority and
 * address; every other one reaches it by its cheapest way, every cable has one bridge that serves
 * it, and what is left is blocked. Boxes without
 * settings pass what bridges say to each other, so that all sockets around them are on one cable.
 */
import { selected } from '../remember'
import type { SiteModel } from './siteModel'

/** Steps of 4096; the highest is what devices have from the factory (IEEE 802.1Q 13.26.3). */
export const ROOT_PRIORITY = 4096
export const SECOND_PRIORITY = 8192
export const USUAL_PRIORITY = 32_768

/** Of a port, by the speed of its cable (IEEE 802.1Q 13.27.33, table 13-5: 20,000 at 1 Gbit/s). */
export const pathCost = (speedMbps: number): number => Math.round(20_000_000 / speedMbps)

export interface SpanningTree {
  readonly rootId: string | null
  /** Of the bridges that speak it. */
  readonly priorities: ReadonlyMap<string, number>
  readonly blocked: ReadonlySet<string>
}

interface Bridge {
  readonly id: string
  readonly key: string
}
interface Socket {
  readonly portId: string
  readonly bridge: Bridge
  readonly number: number
  readonly cost: number
  readonly cable: number
}
/** What a bridge says on a cable: root, cost to it, itself, its port; the lower the better. */
type Said = readonly [root: string, cost: number, bridge: string, port: number]
const isLess = (a: readonly (string | number)[], b: readonly (string | number)[]): boolean => {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return a[i]! < b[i]!
  return false
}

/** The same for every model of the same cables, devices and profiles. */
export const spanningTreeOf: (model: SiteModel) => SpanningTree = selected(
  ({ plan }) => [plan.links, plan.devices, plan.profiles, plan.site.preferences.spanningTreeRootId],
  (model) => work(model),
)

const speaks = (model: SiteModel, deviceId: string): boolean => {
  const p = model.profileOf(deviceId)
  return p.vlan === 'managed' && p.abilities.includes('spanning-tree')
}

function work(model: SiteModel): SpanningTree {
  const priorities = prioritiesOf(model)
  const inside = Object.values(model.plan.links).filter((l) =>
    [l.a, l.b].every((p) => model.profilePortOf(p).role !== 'wan'),
  )
  const cables = cablesOf(
    model,
    inside.map((l) => [l.a, l.b] as const),
  )
  if (!cables) return { rootId: rootOf(model, priorities), priorities, blocked: new Set() }
  const bridges = [...priorities].map(([id, priority]): Bridge => ({
    id,
    key: `${String(priority).padStart(5, '0')}.${model.device(id).hardwareAddress ?? `~${id}`}`,
  }))
  const sockets = bridges.flatMap((bridge) =>
    model.profileOf(bridge.id).ports.flatMap((p, i): Socket[] => {
      const portId = `${bridge.id}.${p.name}`
      const cable = cables.get(portId)
      const peer = model.peerOf(portId)
      return cable === undefined || !peer
        ? []
        : [
            {
              portId,
              bridge,
              number: i + 1,
              cable,
              cost: pathCost(Math.min(p.speedMbps, model.profilePortOf(peer.id).speedMbps)),
            },
          ]
    }),
  )
  return { rootId: rootOf(model, priorities), priorities, blocked: settle(bridges, sockets) }
}

/** Everybody says what it knows until nothing new is said. */
function settle(bridges: readonly Bridge[], sockets: readonly Socket[]): Set<string> {
  const known = new Map<Bridge, { root: string; cost: number; by: Socket | null }>(
    bridges.map((b) => [b, { root: b.key, cost: 0, by: null }]),
  )
  const saysAt = (s: Socket): Said => {
    const k = known.get(s.bridge)!
    return [k.root, k.cost, s.bridge.key, s.number]
  }
  const byCable = new Map<number, Socket[]>()
  for (const s of sockets) byCable.set(s.cable, [...(byCable.get(s.cable) ?? []), s])
  for (let changed = true; changed;) {
    changed = false
    for (const bridge of bridges) {
      let best: {
        vector: readonly (string | number)[]
        root: string
        cost: number
        by: Socket | null
      } = { vector: [bridge.key, 0, bridge.key, 0, 0], root: bridge.key, cost: 0, by: null }
      for (const own of sockets) {
        if (own.bridge !== bridge) continue
        for (const other of byCable.get(own.cable)!) {
          if (other.bridge === bridge) continue
          const [root, cost, by, port] = saysAt(other)
          const vector = [root, cost + own.cost, by, port, own.number]
          if (isLess(vector, best.vector)) best = { vector, root, cost: cost + own.cost, by: own }
        }
      }
      const before = known.get(bridge)!
      if (before.root !== best.root || before.cost !== best.cost || before.by !== best.by) {
        known.set(bridge, best)
        changed = true
      }
    }
  }
  const blocked = new Set<string>()
  for (const list of byCable.values()) {
    const serving = list.reduce((a, b) => (isLess(saysAt(b), saysAt(a)) ? b : a))
    for (const s of list) if (s !== serving && known.get(s.bridge)!.by !== s) blocked.add(s.portId)
  }
  return blocked
}

/**
 * Cables by the sockets of bridges on them, joined where a box without settings is between;
 * undefined where nothing closes a loop.
 */
function cablesOf(
  model: SiteModel,
  links: readonly (readonly [string, string])[],
): Map<string, number> | undefined {
  const up = new Map<string, string>()
  const find = (x: string): string => {
    let at = x
    for (let next = up.get(at); next !== undefined; next = up.get(at)) at = next
    if (at !== x) up.set(x, at)
    return at
  }
  const join = (a: string, b: string): boolean => {
    const [x, y] = [find(a), find(b)]
    if (x === y) return false
    up.set(x, y)
    return true
  }
  let isLoop = false
  const deviceOf = (p: string): string => model.port(p).deviceId
  for (const [a, b] of links)
    if (
      [a, b].every((p) => model.profileOf(deviceOf(p)).vlan !== 'none') &&
      !join(deviceOf(a), deviceOf(b))
    )
      isLoop = true
  if (!isLoop) return undefined
  up.clear()
  const plain = (p: string): boolean =>
    ['transparent', 'unaware'].includes(model.profileOf(deviceOf(p)).vlan)
  for (const [a, b] of links) {
    join(a, b)
    for (const p of [a, b]) if (plain(p)) join(p, `box ${deviceOf(p)}`)
  }
  const numbers = new Map<string, number>()
  return new Map(
    links
      .flat()
      .filter((p) => speaks(model, deviceOf(p)))
      .map((p) => {
        const top = find(p)
        if (!numbers.has(top)) numbers.set(top, numbers.size)
        return [p, numbers.get(top)!]
      }),
  )
}

/**
 * The root is the bridge that the site says, else the one nearest to the gateway; the next one
 * after it takes its place should it fail.
 */
function prioritiesOf(model: SiteModel): Map<string, number> {
  const depth = depths(model)
  const wanted = model.plan.site.preferences.spanningTreeRootId
  const order = model.devices
    .filter((d) => speaks(model, d.id))
    .map((d) => d.id)
    .sort(
      (a, b) =>
        Number(b === wanted) - Number(a === wanted) ||
        (depth.get(a) ?? Infinity) - (depth.get(b) ?? Infinity) ||
        (a < b ? -1 : 1),
    )
  return new Map(
    order.map((id, i) => [
      id,
      i === 0 ? ROOT_PRIORITY : i === 1 ? SECOND_PRIORITY : USUAL_PRIORITY,
    ]),
  )
}
const rootOf = (model: SiteModel, priorities: ReadonlyMap<string, number>): string | null =>
  [...priorities].find(([, p]) => p === ROOT_PRIORITY)?.[0] ?? null

/** Cables from the gateway, whatever is blocked. */
function depths(model: SiteModel): Map<string, number> {
  const depth = new Map<string, number>()
  if (model.gateway) depth.set(model.gateway.id, 0)
  for (const [at, n] of depth)
    for (const p of model.portsOf(at)) {
      const peer = model.peerOf(p.id)
      if (peer && !depth.has(peer.deviceId)) depth.set(peer.deviceId, n + 1)
    }
  return depth
}
