/**
 * An access point: a managed device whose networks are further ports of its bridge, one for each
 * client on the air.
 */
import type { Behaviour } from './behaviour'
import type { AccessPointConfiguration } from '@mast/protocol'
import type { Frame, Mac } from '../frames/frame'
import { connect, disconnect, Socket } from '../net/socket'
import { isBeforePage } from './guests'
import { PageHost, untaggedOnly } from './pageHost'
import { Stations, type ClientRule } from './stations'

/** A client that asks: null is what nobody knows of it. */
export interface Asking {
  readonly band: '2.4' | '5' | '6' | null
  readonly dbm: number | null
  readonly hardwareAddress: string | null
}

/** s. */
const MINUTE = 60

export class AccessPoint extends PageHost {
  /** Called when the networks that it sends have changed. */
  onNetworks: () => void = () => {}
  private readonly clients = new Map<string, Socket>()
  /** The network of each client. */
  private readonly joined = new Map<string, string>()
  private readonly stations = new Stations(
    this.around.queue,
    (id) => this.around.demandOf(id),
    (mac) => this.ruleOf(mac)?.limitKbps ?? null,
  )
  /** Networks whose key somebody typed wrong here. */
  readonly wrongKeys = new Set<string>()
  /** Channels that it really sends on, by band, where they are not those that it was told. */
  readonly otherChannels = new Map<string, number>()

  private get networks(): AccessPointConfiguration['networks'] {
    return this.flash.configuration?.kind === 'access-point' &&
      this.light !== 'off' &&
      this.light !== 'starting'
      ? this.flash.configuration.networks
      : []
  }

  /** What it was told, while it sends. */
  get onAir(): AccessPointConfiguration | null {
    const told = this.flash.configuration
    if (!this.powered || told?.kind !== 'access-point' || this.networks.length === 0) return null
    return {
      ...told,
      radios: told.radios.map((r) => ({
        ...r,
        channel: this.otherChannels.get(r.band) ?? r.channel,
      })),
    }
  }

  /** Who asks to be let in: where it is known, by which band and how loud. */
  static readonly beside: Asking = { band: null, dbm: null, hardwareAddress: null }

  private ruleOf(mac: Mac | null): ClientRule | undefined {
    return this.flash.clientRules?.find((r) => r.hardwareAddress === mac)
  }
  protected override take(rules: readonly ClientRule[]): void {
    if (JSON.stringify(rules) === JSON.stringify(this.flash.clientRules ?? [])) return
    // What moved until now did so by the rules until now.
    this.stations.counted()
    this.flash.clientRules = rules
    for (const r of rules)
      if (r.isShut) for (const id of this.stations.idsOf(r.hardwareAddress)) this.leave(id)
    this.onNetworks()
  }
  protected override stationStates() {
    return this.stations.counted().slice(0, 200)
  }

  /** Whether it would let a client in. */
  lets(networkName: string, key: string | null, asking: Asking = AccessPoint.beside): boolean {
    return this.networkFor(networkName, key, asking) !== undefined
  }
  /** From which level on it leads clients of a network to 5 and 6 GHz, dBm; null where it does not. */
  leadsUpFrom(networkName: string): number | null {
    const network = this.networks.find((n) => n.name === networkName)
    return network?.leadsUp ? network.leadsUpDbm : null
  }
  private networkFor(
    networkName: string,
    key: string | null,
    { band, dbm, hardwareAddress }: Asking,
  ): AccessPointConfiguration['networks'][number] | undefined {
    if (!this.powered) return undefined
    return this.networks.find(
      (n) =>
        n.name === networkName &&
        n.key === key &&
        !this.wrongKeys.has(n.name) &&
        (band === null || n.bands.includes(band)) &&
        (dbm === null || n.leastDbm === null || dbm >= n.leastDbm) &&
        !this.ruleOf(hardwareAddress)?.isShut &&
        (n.allowed.length === 0 || hardwareAddress === null || n.allowed.includes(hardwareAddress)),
    )
  }

  /** Lets a client join where name and key are right; false otherwise. */
  join(
    clientId: string,
    radio: Socket,
    networkName: string,
    key: string | null,
    asking: Asking = AccessPoint.beside,
    mac: Mac | null = asking.hardwareAddress,
  ): boolean {
    const network = this.networkFor(networkName, key, asking)
    if (!network || this.ruleOf(mac)?.isShut) return false
    if (this.clients.get(clientId)?.peer === radio) return true
    this.leave(clientId)
    const air = new Socket(this.around.queue, this, `air-${clientId}`, this.around.counter)
    this.clients.set(clientId, air)
    this.joined.set(clientId, network.name)
    if (mac) this.stations.add(clientId, { mac, network: network.name, signalDbm: asking.dbm })
    const { portal, name } = network
    this.bridge.attach(air.name, air, {
      ...untaggedOnly(network.vlan),
      isolated: new Set(network.clientIsolation ? [network.vlan] : []),
      lets: (frame: Frame) => {
        this.stations.hear(clientId, frame)
        return (
          !portal || this.around.guests.has(name, frame.from) || isBeforePage(frame, portal.before)
        )
      },
    })
    connect(air, radio)
    return true
  }

  /**
   * A guest at the page of its network: says yes to the terms, or types the password.
   * @returns how long that lasts, minutes; null where the password is wrong; undefined without page
   */
  passPage(clientId: string, mac: Mac, password: string | null): number | null | undefined {
    const name = this.joined.get(clientId)
    const portal = this.networks.find((n) => n.name === name)?.portal
    if (!name || !portal) return undefined
    if (portal.password !== null && portal.password !== password) return null
    this.around.guests.pass(name, mac, portal.sessionMinutes)
    return portal.sessionMinutes
  }

  protected override get clientCount(): number {
    return this.clients.size
  }

  has(clientId: string): boolean {
    return this.clients.has(clientId)
  }

  leave(clientId: string): void {
    const air = this.clients.get(clientId)
    if (!air) return
    this.clients.delete(clientId)
    this.joined.delete(clientId)
    this.stations.remove(clientId)
    this.bridge.detach(air.name)
    disconnect(air)
  }

  protected override bringUp(): void {
    super.bringUp()
    this.onNetworks()
    if (this.onAir?.restart) this.later(MINUTE, () => this.lookAtClock())
  }

  /** Once a minute, whether it is time to start anew. */
  private lookAtClock(): void {
    const told = this.onAir
    if (!told?.restart) return
    const { day, minute } = this.around.wallClock(told.system.timeZone)
    // Days of a plan begin with 0 for Monday.
    if (minute === told.restart.minute && [null, day - 1].includes(told.restart.day)) this.restart()
    else this.later(MINUTE, () => this.lookAtClock())
  }

  protected override bringDown(): void {
    super.bringDown()
    for (const id of [...this.clients.keys()]) this.leave(id)
    this.onNetworks()
  }
}

export const accessPoints: Behaviour = {
  is: ({ kind }) => kind === 'access-point',
  make({ around, device, profile, hardwareAddress, flash, onAir }) {
    const point = new AccessPoint(around, device.id, profile, hardwareAddress, flash())
    point.onNetworks = onAir
    return point
  },
}
