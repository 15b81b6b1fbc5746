/**
 * Clients on the air: what each hears where it is, which access point it joins, and when it goes to
 * another. Where nothing is drawn, it joins whoever lets it in.
 */
import type { SitePlan } from '@mast/core/plan'
import { Air, spotOf, type HiddenWall, type Spot } from '../air/air'
import { heardAt, radiosOnAir, type HeardRadio, type OnTheAir } from '../air/radios'
import { AccessPoint } from '../devices/accessPoint'
import type { Box } from '../devices/box'
import { HostBox } from '../devices/hostBox'
import { extendersOf, linkOf, type Extender } from './extenders'

/** Weaker than that nobody joins, dBm. */
const JOINS_DBM = -85
/** It goes to another that is so much better, dB. */
const ROAMS_DB = 8

interface Around {
  readonly plan: SitePlan
  readonly seed: number
  readonly boxes: ReadonlyMap<string, Box>
  /** Where access points really hang. */
  readonly moved: ReadonlyMap<string, { readonly x: number; readonly y: number }>
  /** Walls that nobody drew. */ readonly hiddenWalls: readonly HiddenWall[]
}

export class ClientsOnAir {
  /** Where on a plan of the place somebody has carried a client. */
  private readonly carried = new Map<string, Spot>()
  /** Where somebody holds a client for a test: at which access point. */
  private readonly heldAt = new Map<string, string>()
  private kept: { readonly key: string; readonly plan: SitePlan; readonly air: Air } | undefined

  constructor(private readonly around: Around) {}

  /** The air as it is now. */
  get air(): Air {
    const { plan, seed, hiddenWalls } = this.around
    const key = JSON.stringify(hiddenWalls)
    if (this.kept?.key !== key || this.kept.plan !== plan)
      this.kept = { key, plan, air: new Air(plan, seed, hiddenWalls) }
    return this.kept.air
  }
  private get points(): AccessPoint[] {
    return [...this.around.boxes.values()].filter(
      (b): b is AccessPoint => b instanceof AccessPoint && b.placed,
    )
  }
  private get extenders(): Extender[] {
    const { boxes, plan } = this.around
    return extendersOf(
      plan,
      (id) => boxes.get(id)?.powered === true && boxes.get(id)!.placed,
      (id) => this.points.find((p) => p.id === id),
    )
  }
  /** The extender that a radio belongs to. */
  extenderOf(deviceId: string): Extender | undefined {
    return this.extenders.find((e) => e.device.id === deviceId)
  }
  /** Of each device that sends: the access point into whose bridge comes who joins it. */
  private get behind(): ReadonlyMap<string, AccessPoint> {
    return new Map([
      ...this.points.map((p) => [p.id, p] as const),
      ...this.extenders.map((e) => [e.device.id, e.point] as const),
    ])
  }
  get radios(): OnTheAir[] {
    const { plan } = this.around
    const { extenders } = this
    const all = radiosOnAir(plan, this.air, [
      ...this.pointsOnAir,
      ...extenders.map(({ device, configuration }) => ({ device, configuration })),
    ])
    // What hears nothing passes nothing on.
    const silent = new Set(
      extenders.filter((e) => linkOf(e, this.air, all) === null).map((e) => e.device.id),
    )
    return all.filter((r) => !silent.has(r.deviceId))
  }
  private get pointsOnAir() {
    const { plan } = this.around
    return this.points.flatMap((p) => {
      const device = plan.devices[p.id]
      const to = this.around.moved.get(p.id)
      const hung = to && device?.place ? { ...device, place: { ...device.place, ...to } } : device
      return p.onAir && hung ? [{ device: hung, configuration: p.onAir }] : []
    })
  }
  /** The access point that a client has joined. */
  pointOf(clientId: string): AccessPoint | undefined {
    return this.points.find((p) => p.has(clientId))
  }
  /**
   * Whoever holds a client passes the page of its network before anything else is tried.
   * @returns as `AccessPoint.passPage`
   */
  passPage({ id, setup: { mac, radio } }: HostBox): number | null | undefined {
    return this.pointOf(id)?.passPage(id, mac, radio?.pagePassword ?? null)
  }
  private clientOf(id: string): HostBox | undefined {
    const box = this.around.boxes.get(id)
    return box instanceof HostBox && box.setup.radio ? box : undefined
  }

  /** What a host hears at a spot, or where it is, of what would let it in, from the loudest. */
  hears(hostId: string, at: Spot | null = null, radios = this.radios): HeardRadio[] {
    const { plan } = this.around
    const device = plan.devices[hostId]
    const box = this.clientOf(hostId)
    const spot = at ?? this.carried.get(hostId) ?? (device ? spotOf(device) : null)
    if (!device || !spot || !box) return []
    const { networkName, key } = box.setup.radio!
    const bands = [...new Set(plan.profiles[device.profileId]!.air.flatMap((r) => r.bands))]
    const { behind } = this
    const heard = heardAt(this.air, radios, spot, bands).filter(({ radio, dbm }) => {
      const asking = { band: radio.sending.band, dbm, hardwareAddress: box.setup.mac }
      return dbm >= JOINS_DBM && behind.get(radio.deviceId)?.lets(networkName, key, asking) === true
    })
    // One that leads up does not answer in 2.4 GHz whom it hears well enough higher up.
    const isLedUp = ({ radio }: HeardRadio): boolean => {
      if (radio.sending.band !== '2.4') return false
      const from = behind.get(radio.deviceId)?.leadsUpFrom(networkName) ?? null
      return (
        from !== null &&
        heard.some(
          (o) =>
            o.radio.deviceId === radio.deviceId && o.radio.sending.band !== '2.4' && o.dbm >= from,
        )
      )
    }
    return heard.filter((h) => !isLedUp(h))
  }

  /** Carries a host to a spot, or lets it go back to where it belongs. */
  carry(hostId: string, spot: Spot | null): void {
    if (spot) this.carried.set(hostId, spot)
    else this.carried.delete(hostId)
    this.associate()
  }
  /** Holds a host at an access point, or lets it go: that is not felt before the next change. */
  hold(hostId: string, pointId: string | null): void {
    if (pointId) this.heldAt.set(hostId, pointId)
    else this.heldAt.delete(hostId)
  }

  /** Everybody looks for an access point, and stays where it is as long as that is good. */
  associate(): void {
    const { points, radios } = this
    for (const { id, place } of Object.values(this.around.plan.devices)) {
      const box = this.clientOf(id)
      if (!box) continue
      const joined = points.find((p) => p.has(id))
      const at = box.powered ? this.chosen(id, box, place !== null, points, radios, joined) : null
      for (const p of points) if (p !== at) p.leave(id)
    }
  }
  /** The access point that a client has joined; null where none lets it in. */
  private chosen(
    id: string,
    box: HostBox,
    isPlaced: boolean,
    points: readonly AccessPoint[],
    radios: OnTheAir[],
    joined: AccessPoint | undefined,
  ): AccessPoint | null {
    const { networkName, key } = box.setup.radio!
    const held = this.heldAt.get(id)
    if (held) {
      const point = points.find((p) => p.id === held)
      for (const p of points) if (p !== point) p.leave(id)
      return point?.join(id, box.socket, networkName, key, AccessPoint.beside, box.setup.mac)
        ? point
        : null
    }
    const heard = this.hears(id, null, radios)
    const [loudest] = heard
    if (loudest) {
      const { behind } = this
      const now = joined && heard.find((h) => behind.get(h.radio.deviceId) === joined)
      const { radio, dbm } = now && now.dbm >= loudest.dbm - ROAMS_DB ? now : loudest
      const point = behind.get(radio.deviceId)!
      for (const p of points) if (p !== point) p.leave(id)
      const asking = { band: radio.sending.band, dbm, hardwareAddress: box.setup.mac }
      return point.join(id, box.socket, networkName, key, asking) ? point : null
    }
    // On a plan of the place, who hears nothing joins nothing.
    if (isPlaced || this.carried.has(id)) return null
    const inTurn = joined ? [joined, ...points.filter((p) => p !== joined)] : points
    return (
      inTurn.find((p) =>
        p.join(id, box.socket, networkName, key, AccessPoint.beside, box.setup.mac),
      ) ?? null
    )
  }
}
