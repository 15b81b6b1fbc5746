/**
 * Where the loom draws what: devices in columns by their distance from the gateway, cables between,
 * strands on the cables.
 */
import type { Device, Link } from '@mast/core/plan'
import { carriageOf, needsOf, outcomeOf, type Form, type SiteModel } from '@mast/core/topology'

export interface LoomPort {
  readonly id: string
  readonly name: string
  readonly y: number
  readonly side: 'in' | 'out'
}
export interface LoomDevice {
  readonly device: Device
  readonly column: number
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  readonly ports: readonly LoomPort[]
}
export interface LoomStrand {
  readonly segmentId: string
  readonly form: Form | null
  /** `whole`, stops at the near or far end, or is missing altogether. */ readonly state:
    'whole' | 'stops' | 'missing'
}
export interface LoomCable {
  readonly id: string
  readonly link: Link | null
  readonly from: { x: number; y: number; portId: string }
  readonly to: { x: number; y: number; portId: string }
  readonly strands: readonly LoomStrand[]
  readonly radio: boolean
}
export interface LoomLine {
  readonly id: string
  readonly name: string
  readonly tag: number | 'untagged' | null
  readonly isPlugged: boolean
  readonly x: number
  readonly y: number
}
export interface Loom {
  readonly devices: readonly LoomDevice[]
  readonly cables: readonly LoomCable[]
  readonly loose: readonly Device[]
  readonly width: number
  readonly height: number
  /** Lines of the providers, in their order, each where it meets the gateway. */
  readonly lines: readonly LoomLine[]
}

const BOX = 136
const GAP = 54
const PORT = 19
const HEAD = 34
const SPACE = 14
export const STRAND = 4
const LINE_ROOM = 84
const LINE_STEP = 44

interface Node {
  device: Device
  column: number
  children: { node: Node; outPort: string; inPort: string; link: Link | null }[]
  inPort: string | null
}

export function layLoom(model: SiteModel): Loom {
  const { gateway } = model
  if (!gateway)
    return { devices: [], cables: [], loose: model.devices, width: 0, height: 0, lines: [] }
  const root: Node = { device: gateway, column: 0, children: [], inPort: null }
  const seen = new Set([gateway.id])
  const queue = [root]
  for (let node = queue.shift(); node; node = queue.shift()) {
    for (const port of model.portsOf(node.device.id)) {
      const peer = model.peerOf(port.id)
      if (!peer || seen.has(peer.deviceId)) continue
      seen.add(peer.deviceId)
      const child: Node = {
        device: model.device(peer.deviceId),
        column: node.column + 1,
        children: [],
        inPort: peer.id,
      }
      node.children.push({
        node: child,
        outPort: port.id,
        inPort: peer.id,
        link: model.linkAt(port.id) ?? null,
      })
      queue.push(child)
    }
    for (const network of model.networksOf(node.device.id))
      for (const host of model.devices)
        if (host.wirelessNetworkId === network.id && !seen.has(host.id)) {
          seen.add(host.id)
          const child: Node = { device: host, column: node.column + 1, children: [], inPort: 'air' }
          node.children.push({
            node: child,
            outPort: `air:${network.id}`,
            inPort: 'air',
            link: null,
          })
        }
  }

  const columnBottom: number[] = []
  const placed = new Map<string, LoomDevice>()
  const place = (node: Node): void => {
    const lines = node === root ? model.lines.length : 0
    const inside = Math.max(1, node.children.length, (lines * LINE_STEP) / PORT)
    const height = HEAD + inside * PORT
    const y = Math.max(
      columnBottom[node.column] ?? 8,
      node.column > 0 ? (columnBottom[node.column] ?? 8) : 8,
    )
    const ports: LoomPort[] = [
      ...(node.inPort
        ? [
            {
              id: node.inPort,
              name: node.inPort === 'air' ? 'on air' : model.port(node.inPort).name,
              y: y + HEAD + PORT / 2 - 4,
              side: 'in' as const,
            },
          ]
        : []),
      ...node.children.map((c, i) => ({
        id: c.outPort,
        name: c.outPort.startsWith('air:') ? 'on air' : model.port(c.outPort).name,
        y: y + HEAD + PORT * i + PORT / 2 - 4,
        side: 'out' as const,
      })),
    ]
    placed.set(node.device.id, {
      device: node.device,
      column: node.column,
      x: LINE_ROOM + node.column * (BOX + GAP),
      y,
      width: BOX,
      height,
      ports,
    })
    columnBottom[node.column] = y + height + SPACE
    for (const c of node.children) place(c.node)
  }
  place(root)

  const missing = missingByPort(model)
  const carried = model.segments.map((s): Carried => ({
    segmentId: s.id,
    forms: carriageOf(model, s.id).forms,
  }))
  const cables: LoomCable[] = []
  const connect = (node: Node): void => {
    const a = placed.get(node.device.id)!
    for (const c of node.children) {
      const b = placed.get(c.node.device.id)!
      const from = {
        x: a.x + a.width,
        y: a.ports.find((p) => p.id === c.outPort)!.y,
        portId: c.outPort,
      }
      const to = { x: b.x, y: b.ports.find((p) => p.side === 'in')!.y, portId: c.inPort }
      cables.push({
        id: c.link?.id ?? `${c.outPort}-${c.node.device.id}`,
        link: c.link,
        from,
        to,
        radio: c.link === null,
        strands: c.link
          ? strandsOf(carried, c.outPort, c.inPort, missing)
          : airStrands(model, c.node.device),
      })
      connect(c.node)
    }
  }
  connect(root)
  const devices = [...placed.values()]
  const g = placed.get(gateway.id)!
  return {
    devices,
    cables,
    loose: model.devices.filter((d) => !seen.has(d.id)),
    width: Math.max(...devices.map((d) => d.x + d.width)) + 20,
    height: Math.max(...devices.map((d) => d.y + d.height)) + 16,
    lines: model.lines.map(({ id, name, portId, handOff }, n) => ({
      id,
      name,
      tag: handOff.mode === 'cellular' ? 'untagged' : handOff.vlan,
      isPlugged: portId !== null,
      x: g.x,
      y: g.y + HEAD + PORT / 2 - 4 + n * LINE_STEP,
    })),
  }
}

/** What the ports carry of a segment. */
interface Carried {
  readonly segmentId: string
  readonly forms: ReadonlyMap<string, Form>
}

function strandsOf(
  carried: readonly Carried[],
  outPort: string,
  inPort: string,
  missing: ReadonlyMap<string, ReadonlySet<string>>,
): LoomStrand[] {
  const strands: LoomStrand[] = []
  for (const { segmentId, forms } of carried) {
    const sent = forms.get(outPort)
    const got = forms.get(inPort)
    if (sent !== undefined && got !== undefined)
      strands.push({ segmentId, form: sent, state: 'whole' })
    else if (sent !== undefined || got !== undefined)
      strands.push({ segmentId, form: sent ?? got ?? null, state: 'stops' })
    else if (missing.get(outPort)?.has(segmentId) || missing.get(inPort)?.has(segmentId))
      strands.push({ segmentId, form: null, state: 'missing' })
  }
  return strands
}

function airStrands(model: SiteModel, host: Device): LoomStrand[] {
  const network = host.wirelessNetworkId
    ? model.plan.wirelessNetworks[host.wirelessNetworkId]
    : undefined
  return network ? [{ segmentId: network.segmentId, form: 'untagged', state: 'whole' }] : []
}

/** Segments that are needed beyond a port and do not pass it. */
function missingByPort(model: SiteModel): Map<string, Set<string>> {
  const out = new Map<string, Set<string>>()
  for (const need of needsOf(model)) {
    const found = outcomeOf(model, need).break
    if (!found || found.kind === 'no cable') continue
    out.set(found.portId, (out.get(found.portId) ?? new Set()).add(need.segmentId))
  }
  return out
}

/** A cable's curve, shifted for one of its strands. */
export function curve(
  from: { x: number; y: number },
  to: { x: number; y: number },
  shift: number,
  share = 1,
): string {
  const [x1, y1, x2, y2] = [from.x, from.y + shift, to.x, to.y + shift]
  if (share === 1) return `M${x1} ${y1} C${x1 + 38} ${y1} ${x2 - 38} ${y2} ${x2} ${y2}`
  const [mx, my] = [x1 + (x2 - x1) * share, y1 + (y2 - y1) * share * share * (3 - 2 * share)]
  return `M${x1} ${y1} C${x1 + 38 * share} ${y1} ${mx - 14} ${my} ${mx} ${my}`
}
