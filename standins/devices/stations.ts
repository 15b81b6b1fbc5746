/** Who has joined an access point: since when, from which address, and how much has moved. */
import type { Frame, Mac } from '../frames/frame'
import { toText } from '../frames/frame'
import type { EventQueue } from '../clock/eventQueue'

/** What a client moves where nothing holds it back, bit/s. */
export interface Demand {
  readonly downBps: number
  readonly upBps: number
}
/** What the controller says of a client. */
export interface ClientRule {
  readonly hardwareAddress: string
  readonly isShut: boolean
  readonly limitKbps: number | null
}
interface Station {
  readonly mac: Mac
  readonly network: string
  readonly joinedAt: number
  readonly signalDbm: number | null
  address: string | null
  down: number
  up: number
  countedAt: number
}

/** The address that a frame says its sender has, or asks to have (RFC 2131 3.1); 0 where it says none. */
function saysFrom(payload: Frame['payload']): number {
  if (payload.kind === 'arp') return payload.sender
  if (payload.kind !== 'ipv4') return 0
  const { body, src } = payload
  return body.protocol === 'udp' && body.data.kind === 'dhcp' && body.data.op === 'request'
    ? body.data.address
    : src
}

export class Stations {
  private readonly all = new Map<string, Station>()

  constructor(
    private readonly queue: EventQueue,
    private readonly demand: (clientId: string) => Demand,
    private readonly limitOf: (mac: Mac) => number | null,
  ) {}

  add(clientId: string, of: Pick<Station, 'mac' | 'network' | 'signalDbm'>): void {
    const { now } = this.queue
    this.all.set(clientId, { ...of, joinedAt: now, countedAt: now, address: null, down: 0, up: 0 })
  }
  remove(clientId: string): void {
    this.all.delete(clientId)
  }
  /** A frame of a client passes: what it says of where it comes from. */
  hear(clientId: string, { payload }: Frame): void {
    const station = this.all.get(clientId)
    const from = station ? saysFrom(payload) : 0
    if (from !== 0) station!.address = toText(from)
  }
  idsOf(mac: Mac): string[] {
    return [...this.all].flatMap(([id, s]) => (s.mac === mac ? [id] : []))
  }

  /** As far as they have come, as a report says it. */
  counted() {
    return [...this.all].map(([id, s]) => {
      const { now } = this.queue
      const { downBps, upBps } = this.demand(id)
      const limit = this.limitOf(s.mac)
      const octets = (bps: number): number =>
        (Math.min(bps, limit === null ? Infinity : limit * 1000) / 8) * (now - s.countedAt)
      s.down += octets(downBps)
      s.up += octets(upBps)
      s.countedAt = now
      return {
        hardwareAddress: s.mac,
        network: s.network,
        address: s.address,
        signalDbm: s.signalDbm === null ? null : Math.round(s.signalDbm),
        sinceSeconds: now - s.joinedAt,
        downOctets: Math.round(s.down),
        upOctets: Math.round(s.up),
      }
    })
  }
}
