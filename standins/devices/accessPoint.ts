/**
 * An access point: a managed device whose networks are further ports of its bridge, one for each
 * client on the air.
 */
import type { Behaviour } from './behaviour'
import type { AccessPointConfiguration } from '@mast/protocol'
import { connect, disconnect, Socket } from '../net/socket'
import { PageHost, untaggedOnly } from './pageHost'

export class AccessPoint extends PageHost {
  /** Called when the networks that it sends have changed. */
  onNetworks: () => void = () => {}
  private readonly clients = new Map<string, Socket>()

  private get networks(): AccessPointConfiguration['networks'] {
    return this.flash.configuration?.kind === 'access-point' &&
      this.light !== 'off' &&
      this.light !== 'starting'
      ? this.flash.configuration.networks
      : []
  }

  /** Lets a client join where name and key are right; false otherwise. */
  join(clientId: string, radio: Socket, networkName: string, key: string | null): boolean {
    const network = this.powered
      ? this.networks.find((n) => n.name === networkName && n.key === key)
      : undefined
    if (!network) return false
    if (this.clients.get(clientId)?.peer === radio) return true
    this.leave(clientId)
    const air = new Socket(this.around.queue, this, `air-${clientId}`, this.around.counter)
    this.clients.set(clientId, air)
    this.bridge.attach(air.name, air, {
      ...untaggedOnly(network.vlan),
      isolated: new Set(network.clientIsolation ? [network.vlan] : []),
    })
    connect(air, radio)
    return true
  }

  has(clientId: string): boolean {
    return this.clients.has(clientId)
  }

  leave(clientId: string): void {
    const air = this.clients.get(clientId)
    if (!air) return
    this.clients.delete(clientId)
    this.bridge.detach(air.name)
    disconnect(air)
  }

  protected override bringUp(): void {
    super.bringUp()
    this.onNetworks()
  }

  protected override bringDown(): void {
    super.bringDown()
    for (const id of [...this.clients.keys()]) this.leave(id)
    this.onNetworks()
  }
}

export const accessPoints: Behaviour = {
  is: ({ kind }) => kind === 'access-point',
  make({ around, device, profile, hardwareAddress, flash, onNetworks }) {
    const point = new AccessPoint(around, device.id, profile, hardwareAddress, flash())
    point.onNetworks = onNetworks
    return point
  },
}
