/**
 * The bridges of a world: whether their ends pair, how loud they hear each other, and how fast frames
 * pass. What is set is what hands typed in, as the plan says, faults considered.
 */
import type { Bridge } from '@mast/core/plan'
import { arriving, type BridgeTruth, type EndTruth, type Pointed } from '../air/bridgePath'
import { shadowAt } from '../air/shadowing'
import { kindOfFault } from '../faults'
import type { Snapshot } from '../control/messages'
import type { PathState } from '@mast/protocol'
import { BridgeRadio } from '../devices/bridgeRadio'
import type { Frame } from '../frames/frame'
import type { AirPath, Socket } from '../net/socket'
import type { World } from './world'

/** Levels wander by so much where nobody measured, dB (one deviation). */
const WANDERS_DB = 0.7
/** A frame that would wait longer is dropped, s. */
const LONGEST_WAIT_S = 0.25
/** Of an acknowledgement that comes too late all is sent again and again: what is left of the rate. */
const LATE_SHARE = 0.05

export interface BridgeNow {
  readonly id: string
  /** Read at each end, dBm; null where the other has no power, or nothing is known of the path. */
  readonly atA: number | null
  readonly atB: number | null
  /** On the air, Mbit/s. */
  readonly toB: number
  readonly toA: number
  readonly isUp: boolean
  /** Why it is not, in words. */
  readonly why: string
  /** What displays show, of units that have one: the role's letter and the channel. */
  readonly shows: { readonly a: string | null; readonly b: string | null }
}

type Settings = Pick<Bridge['a'], 'channel' | 'role' | 'widthMhz' | 'distance'> & {
  /** What it was told; null of one that was set by hand. */
  readonly key: string | null
}

/** How far a level is off its mean, in deviations; the same for the same seed. */
function wanderOf(seed: number, id: string): number {
  let sum = 0
  for (const c of id) sum = (sum * 31 + c.charCodeAt(0)) | 0
  return shadowAt(seed, sum & 0xffff, 0)
}

const STRAIGHT: Pointed = { across: 0, up: 0 }

/** Octets of a frame on the wire: what is not told otherwise is small. */
function octetsOf({ payload }: Frame): number {
  if (payload.kind !== 'ipv4') return 64
  const { body } = payload
  return 'octets' in body && typeof body.octets === 'number' ? body.octets + 18 : 120
}

/** One direction: frames go one after the other. */
class OneWay {
  private freeAt = 0
  constructor(
    private readonly mbps: number,
    private readonly now: () => number,
  ) {}
  /** How long until a frame is across, s; null where it is dropped. */
  pass(frame: Frame): number | null {
    if (this.mbps <= 0) return null
    const now = this.now()
    const start = Math.max(now, this.freeAt)
    if (start - now > LONGEST_WAIT_S) return null
    this.freeAt = start + (octetsOf(frame) * 8) / (this.mbps * 1e6)
    return this.freeAt - now
  }
}

export class BridgesOnAir {
  /** How hands turned antennas, by device. */
  private readonly turned = new Map<string, Pointed>()
  private paths = new Map<string, BridgeNow>()
  /** Sockets whose cable is a path through the air. */
  private sockets = new Set<Socket>()

  constructor(private readonly world: World) {}

  private deviceAt(bridge: Bridge, end: 'a' | 'b'): string {
    const { plan } = this.world
    return plan.ports[plan.links[bridge.linkId]![end]]!.deviceId
  }

  /** How an end is set: as its controller told it, or as hands typed it; null as from its box. */
  private settingsOf(bridge: Bridge, end: 'a' | 'b'): Settings | null {
    const { plan, boxes } = this.world
    const port = plan.ports[plan.links[bridge.linkId]![end]]!
    const box = boxes.get(port.deviceId)
    if (!(box instanceof BridgeRadio)) return { ...bridge[end], key: null }
    return box.told(port.name)
  }

  private truthOf(bridge: Bridge, a: Settings, b: Settings): BridgeTruth {
    const end = (name: 'a' | 'b', set: Settings): EndTruth => ({
      pointed: this.turned.get(this.deviceAt(bridge, name)) ?? STRAIGHT,
      isTurned: false,
      channel: set.channel,
      role: set.role,
    })
    const truth: BridgeTruth = { a: end('a', a), b: end('b', b), rainMmH: 0, grownM: 0 }
    for (const f of this.world.faultsIn) {
      const { spoilsBridge } = kindOfFault(f)
      if (spoilsBridge?.of(f) === bridge.id) spoilsBridge.spoil(f, truth)
    }
    return truth
  }

  private look(bridge: Bridge): BridgeNow {
    const { world } = this
    const { plan } = world
    const [setA, setB] = [this.settingsOf(bridge, 'a'), this.settingsOf(bridge, 'b')]
    const [idA, idB] = [this.deviceAt(bridge, 'a'), this.deviceAt(bridge, 'b')]
    const [unitA, unitB] = [idA, idB].map(
      (id) => plan.profiles[plan.devices[id]!.profileId]!.bridge,
    )
    const hasPower = [idA, idB].every((id) => world.boxes.get(id)?.powered)
    const truth = setA && setB && this.truthOf(bridge, setA, setB)
    const shows = {
      a:
        truth && unitA?.hasDisplay
          ? `${truth.a.role === 'main' ? 'M' : 'F'}${truth.a.channel ?? '-'}`
          : null,
      b:
        truth && unitB?.hasDisplay
          ? `${truth.b.role === 'main' ? 'M' : 'F'}${truth.b.channel ?? '-'}`
          : null,
    }
    const off = (why: string, level: { atA: number; atB: number } | null = null): BridgeNow => ({
      ...{ id: bridge.id, toB: 0, toA: 0, isUp: false, why, shows },
      atA: level?.atA ?? null,
      atB: level?.atB ?? null,
    })
    if (!hasPower) return off('an end has no power')
    if (!setA || !setB || !truth) return off('an end starts, or is as from its box')
    const mhz = (unit: typeof unitA, n: number | null) =>
      unit?.channels.find((c) => c.number === n)?.mhz
    const [fa, fb] = [mhz(unitA, truth.a.channel), mhz(unitB, truth.b.channel)]
    const known = arriving(plan, bridge, truth)
    // Of a path that nobody measured nothing is simulated: it passes as a cable does.
    if (!known || !unitA || !unitB || unitA.steps.length === 0)
      return { ...off(''), isUp: true, toB: Infinity, toA: Infinity }
    if (fa !== fb) return off('they are on different channels')
    const wander = wanderOf(this.world.seed, bridge.id) * WANDERS_DB
    const level = { atA: known.atA + wander, atB: known.atB + wander }
    if (setA.widthMhz !== setB.widthMhz) return off('their channels are not equally wide', level)
    if (truth.a.role === truth.b.role) return off('both have the same role', level)
    const isOneKey =
      setA.key !== null && setB.key !== null
        ? setA.key === setB.key
        : bridge.a.keyRef === bridge.b.keyRef
    if (!isOneKey) return off('their keys differ', level)
    const rate = (unit: NonNullable<typeof unitA>, dbm: number): number =>
      unit.steps
        .filter((s) => s.widthMhz === setA.widthMhz && s.leastDbm <= dbm)
        .reduce((best, s) => Math.max(best, s.mbps), 0)
    const late = (['a', 'b'] as const).some((end) => {
      const { kind } = (end === 'a' ? unitA : unitB).distance
      const set = (end === 'a' ? setA : setB).distance
      if (set === null || kind === 'none') return false
      return kind === 'timer-us' ? set < (2 * known.metres) / 300 - 1 : set < known.metres * 0.98
    })
    const left = late ? LATE_SHARE : 1
    const [toB, toA] = [rate(unitB, level.atB) * left, rate(unitA, level.atA) * left]
    if (toB === 0 || toA === 0) return off('too little arrives', level)
    return { ...level, id: bridge.id, toB, toA, isUp: true, why: '', shows }
  }

  /** Looks at all of them anew, and tells sockets whose signal came or went. */
  renew(socketOf: (portId: string) => Socket | undefined): void {
    const { plan, queue } = this.world
    this.paths = new Map(Object.values(plan.bridges).map((b) => [b.id, this.look(b)]))
    const before = this.sockets
    this.sockets = new Set()
    for (const bridge of Object.values(plan.bridges)) {
      const link = plan.links[bridge.linkId]!
      const [a, b] = [socketOf(link.a), socketOf(link.b)]
      const now = this.paths.get(bridge.id)!
      if (!a || !b) continue
      const way = (mbps: number, owner: string): AirPath => {
        const { dataShare, duplex } = plan.profiles[plan.devices[owner]!.profileId]!.bridge ?? {
          dataShare: 1,
          duplex: 'frequency',
        }
        const one = new OneWay(mbps * dataShare * (duplex === 'time' ? 0.5 : 1), () => queue.now)
        return { isUp: now.isUp, seconds: Number.isFinite(mbps) ? (f) => one.pass(f) : () => 0 }
      }
      a.air = way(now.toB, this.deviceAt(bridge, 'a'))
      b.air = way(now.toA, this.deviceAt(bridge, 'b'))
      for (const s of [a, b]) {
        this.sockets.add(s)
        s.refresh()
      }
    }
    // What the plan says nothing of any more passes as a cable does.
    for (const s of before)
      if (!this.sockets.has(s)) {
        s.air = null
        s.refresh()
      }
  }

  /** Turns an antenna; gives what its unit reads then. */
  turn(deviceId: string, pointed: Pointed): void {
    if (pointed.across === 0 && pointed.up === 0) this.turned.delete(deviceId)
    else this.turned.set(deviceId, pointed)
  }
  /** What a unit reads of each of its bridges. */
  readingsAt(deviceId: string): { bridgeId: string; dbm: number | null; why: string }[] {
    const { plan } = this.world
    return [...this.paths.values()].flatMap((b) => {
      const bridge = plan.bridges[b.id]!
      const end = (['a', 'b'] as const).find((e) => this.deviceAt(bridge, e) === deviceId)
      return end ? [{ bridgeId: b.id, dbm: end === 'a' ? b.atA : b.atB, why: b.why }] : []
    })
  }
  /** What a radio says of its paths in its reports. */
  reportedBy(deviceId: string): PathState[] {
    const { plan } = this.world
    return [...this.paths.values()].flatMap((now) => {
      const bridge = plan.bridges[now.id]
      const link = bridge && plan.links[bridge.linkId]
      const end = (['a', 'b'] as const).find(
        (e) => link && plan.ports[link[e]]?.deviceId === deviceId,
      )
      // Of what passes everything nothing is known.
      if (!link || !end || !Number.isFinite(now.toA) || !Number.isFinite(now.toB)) return []
      const [dbm, sendsMbps, hearsMbps] =
        end === 'a' ? [now.atA, now.toB, now.toA] : [now.atB, now.toA, now.toB]
      return [
        {
          port: plan.ports[link[end]]!.name,
          dbm: dbm === null ? null : Math.round(dbm * 10) / 10,
          sendsMbps,
          hearsMbps,
        },
      ]
    })
  }
  /** What can be told of them; what passes everything has no rate. */
  get seen(): Snapshot['bridges'] {
    const rate = (mbps: number): number | null => (Number.isFinite(mbps) ? mbps : null)
    return [...this.paths.values()].map((b) => ({ ...b, toB: rate(b.toB), toA: rate(b.toA) }))
  }
  now(bridgeId: string): BridgeNow | undefined {
    return this.paths.get(bridgeId)
  }
  get saved(): Readonly<Record<string, Pointed>> {
    return Object.fromEntries(this.turned)
  }
}
