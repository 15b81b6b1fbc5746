/**
 * A socket on a housing and the cable between two of them. A frame crosses where both sides have
 * power.
 */
import type { EventQueue } from '../clock/eventQueue'
import type { Frame } from '../frames/frame'

/** Time a frame takes over a cable and through a port, s. */
const WIRE_SECONDS = 0.0002

export interface SocketOwner {
  readonly powered: boolean
}

/** Where the cable is a path through the air. */
export interface AirPath {
  readonly isUp: boolean
  /** How long a frame takes, s; null where it is lost. */
  seconds(frame: Frame): number | null
}

export class Socket {
  /** null of a cable. */
  air: AirPath | null = null
  peer: Socket | null = null
  onFrame: (frame: Frame) => void = () => {}
  onLink: (up: boolean) => void = () => {}
  private wasUp = false
  speedMbps = 1000
  /** What the lead in it passes, Mbit/s. */
  leadMbps = Infinity

  constructor(
    readonly queue: EventQueue,
    readonly owner: SocketOwner,
    readonly name: string,
    private readonly counter: { frames: number },
  ) {}

  get up(): boolean {
    return (
      this.peer !== null &&
      this.owner.powered &&
      this.peer.owner.powered &&
      this.air?.isUp !== false
    )
  }

  /** What both ends agree on, Mbit/s (IEEE 802.3 28); null of the air, and without a signal. */
  get agreedMbps(): number | null {
    return this.up && this.air === null
      ? Math.min(this.speedMbps, this.peer!.speedMbps, this.leadMbps)
      : null
  }

  send(frame: Frame): void {
    const to = this.peer
    if (!to || !this.up) return
    const onAir = this.air === null ? 0 : this.air.seconds(frame)
    if (onAir === null) return
    this.queue.after(WIRE_SECONDS + onAir, () => {
      if (this.peer !== to || !this.up) return
      this.counter.frames++
      to.onFrame(frame)
    })
  }

  /** To be called when power or cabling changed; tells the owner where the signal came or went. */
  refresh(): void {
    if (this.up === this.wasUp) return
    this.wasUp = this.up
    this.onLink(this.up)
  }
}

export function connect(a: Socket, b: Socket): void {
  disconnect(a)
  disconnect(b)
  a.peer = b
  b.peer = a
  a.refresh()
  b.refresh()
}

export function disconnect(a: Socket): void {
  const b = a.peer
  if (!b) return
  a.peer = null
  b.peer = null
  a.refresh()
  b.refresh()
}
