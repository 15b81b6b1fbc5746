/**
 * The switching part of a managed device: ports with memberships, a table of where each hardware
 * address was heard, the device's own taps.
 */
import { BROADCAST, type Frame, type Mac } from '../frames/frame'
import type { EventQueue } from '../clock/eventQueue'
import type { Socket } from './socket'
import type { SpanningTree } from './spanningTree'

/** How long an address is remembered (IEEE 802.1Q 8.8.3, the recommended default). */
const AGEING_SECONDS = 300

export interface Membership {
  readonly untagged: number | null
  readonly tagged: ReadonlySet<number>
  /** What comes in here is let through; all of it where nothing is said. */ readonly lets?: (
    frame: Frame,
  ) => boolean
  /** VLANs in which the port does not hear others that are isolated in them. */ readonly isolated?: ReadonlySet<number>
  /** Drops what servers of leases say where it comes in here. */ readonly leaseGuard?: boolean
}
interface BridgePort {
  readonly socket: Socket
  membership: Membership
}
interface Heard {
  port: string
  at: number
}
/** A tap is where the device itself listens in a VLAN. */
export type Tap = (frame: Frame) => void

/** What only a server of leases says (RFC 2131). */
const saysLease = ({ payload }: Frame): boolean =>
  payload.kind === 'ipv4' &&
  payload.body.protocol === 'udp' &&
  payload.body.data.kind === 'dhcp' &&
  ['offer', 'ack', 'nak'].includes(payload.body.data.op)

export class VlanBridge {
  private readonly ports = new Map<string, BridgePort>()
  private readonly taps = new Map<number, Tap>()
  /** Where an address was heard, by VLAN. */
  private readonly heard = new Map<number, Map<Mac, Heard>>()
  /** Tags that a fault makes a port lose. */
  readonly lostTags = new Map<string, Set<number>>()

  /** @param tree what keeps loops from forming; null where the device knows nothing of it */
  constructor(
    private readonly queue: EventQueue,
    private readonly tree: SpanningTree | null = null,
  ) {
    if (tree) tree.onChange = () => this.heard.clear()
  }

  attach(name: string, socket: Socket, membership: Membership): void {
    this.ports.set(name, { socket, membership })
    socket.onFrame = (frame) => this.fromPort(name, frame)
  }

  detach(name: string): void {
    this.ports.delete(name)
    for (const table of this.heard.values())
      for (const [mac, at] of table) if (at.port === name) table.delete(mac)
  }

  setMembership(name: string, membership: Membership): void {
    const port = this.ports.get(name)
    if (port) port.membership = membership
  }

  setTaps(taps: ReadonlyMap<number, Tap>): void {
    this.taps.clear()
    for (const [vlan, tap] of taps) this.taps.set(vlan, tap)
  }

  reset(): void {
    this.heard.clear()
  }

  /** Hardware addresses heard at a port, newest first. */
  heardAt(name: string): Mac[] {
    return [...this.heard.values()]
      .flatMap((table) => [...table])
      .filter(([, h]) => h.port === name && this.queue.now - h.at <= AGEING_SECONDS)
      .sort((a, b) => b[1].at - a[1].at)
      .map(([mac]) => mac)
  }

  /** From the device itself into a VLAN. */
  fromTap(vlan: number, frame: Frame): void {
    this.forward(vlan, frame, null)
  }

  private loses(name: string, vlan: number): boolean {
    return this.lostTags.get(name)?.has(vlan) ?? false
  }

  private fromPort(name: string, frame: Frame): void {
    const port = this.ports.get(name)
    if (!port) return
    // Meant for the next bridge and for no other.
    if (frame.payload.kind === 'bpdu') {
      this.tree?.receive(name, frame.payload)
      return
    }
    if (this.tree?.passes(name) === false) return
    const { untagged, tagged } = port.membership
    const vlan =
      frame.tag === null
        ? untagged
        : tagged.has(frame.tag) && !this.loses(name, frame.tag)
          ? frame.tag
          : null
    if (vlan === null || (port.membership.leaseGuard && saysLease(frame))) return
    if (port.membership.lets?.(frame) === false) return
    this.learn(vlan, frame.from, name)
    this.forward(vlan, { ...frame, tag: null }, name)
  }

  private learn(vlan: number, mac: Mac, port: string): void {
    let table = this.heard.get(vlan)
    if (!table) this.heard.set(vlan, (table = new Map()))
    const known = table.get(mac)
    if (known) {
      known.port = port
      known.at = this.queue.now
    } else table.set(mac, { port, at: this.queue.now })
  }

  private forward(vlan: number, frame: Frame, came: string | null): void {
    const tap = this.taps.get(vlan)
    if (tap && came !== null) tap(frame)
    const at = frame.to === BROADCAST ? undefined : this.heard.get(vlan)?.get(frame.to)
    if (at && this.queue.now - at.at <= AGEING_SECONDS) {
      if (at.port !== came) this.out(at.port, vlan, frame, came)
      return
    }
    for (const name of this.ports.keys()) if (name !== came) this.out(name, vlan, frame, came)
  }

  private isIsolated(name: string, vlan: number): boolean {
    return this.ports.get(name)?.membership.isolated?.has(vlan) ?? false
  }

  private out(name: string, vlan: number, frame: Frame, came: string | null): void {
    const port = this.ports.get(name)
    if (!port) return
    if (this.tree?.passes(name) === false) return
    if (this.isIsolated(name, vlan) && came !== null && this.isIsolated(came, vlan)) return
    if (port.membership.untagged === vlan) port.socket.send(frame)
    else if (port.membership.tagged.has(vlan) && !this.loses(name, vlan))
      port.socket.send({ ...frame, tag: vlan })
  }
}
