/** A managed device with one address for its page: switches, access points, radios for bridges. */
import type { Behaviour } from './behaviour'
import { decodeUris, decodeVendor, toNumber, type Frame } from '../frames/frame'
import { Host } from '../net/host'
import type { Endpoint } from '../net/endpoint'
import type { Membership } from '../net/vlanBridge'
import { Appliance, type ApplianceSurroundings, type Flash } from './appliance'
import type { Profile } from '@mast/core/plan'
import type {
  AccessPointConfiguration,
  BridgeRadioConfiguration,
  SwitchConfiguration,
} from '@mast/protocol'

/** A new device has every port untagged in this VLAN. */
export const FACTORY_VLAN = 1
export const untaggedOnly = (vlan: number | null): Membership => ({
  untagged: vlan,
  tagged: new Set(),
})

export abstract class PageHost extends Appliance {
  protected readonly host: Host

  constructor(
    around: ApplianceSurroundings,
    id: string,
    profile: Profile,
    hardwareAddress: string,
    flash: Flash,
  ) {
    super(around, id, profile, hardwareAddress, flash)
    this.host = new Host(
      around.queue,
      hardwareAddress,
      (frame) => this.bridge.fromTap(this.pageVlan, frame),
      around.random,
    )
    for (const p of profile.ports)
      this.bridge.attach(p.name, this.sockets.get(p.name)!, untaggedOnly(null))
    this.host.onAddress = (lease) => {
      if (lease) {
        const { vendor, bootstrap } = lease.options
        this.addressed(
          vendor ? decodeVendor(vendor) : null,
          bootstrap ? decodeUris(bootstrap) : undefined,
        )
      } else this.fallBack()
    }
  }

  protected get configured():
    SwitchConfiguration | AccessPointConfiguration | BridgeRadioConfiguration | null {
    const c = this.flash.configuration
    return c && c.kind !== 'gateway' ? c : null
  }
  protected get pageVlan(): number {
    return this.configured ? (this.configured.page.vlan ?? 0) : FACTORY_VLAN
  }

  get endpoint(): Endpoint {
    return this.host.endpoint
  }
  get address(): number | null {
    return this.host.address
  }
  protected nameServer(): number | null {
    return this.host.nameServer
  }

  protected bringUp(): void {
    const c = this.configured
    for (const p of this.profile.ports) {
      const set = c?.ports.find((x) => x.name === p.name)
      this.bridge.setMembership(
        p.name,
        c
          ? {
              untagged: set?.untagged ?? null,
              tagged: new Set(set?.tagged ?? []),
              isolated: new Set(set?.isolated ?? []),
              leaseGuard: set?.leaseGuard ?? false,
            }
          : untaggedOnly(FACTORY_VLAN),
      )
    }
    this.bridge.setTaps(new Map([[this.pageVlan, (frame: Frame) => this.host.net.receive(frame)]]))
    if (c?.page.mode === 'fixed' && c.page.address) {
      const [address, length] = c.page.address.split('/') as [string, string]
      this.host.setFixed({
        address: toNumber(address),
        length: Number(length),
        gateway: c.page.gateway ? toNumber(c.page.gateway) : null,
      })
      this.addressed(null)
    } else this.host.dhcp.start()
  }

  protected bringDown(): void {
    this.host.stop()
    this.bridge.setTaps(new Map())
    for (const p of this.profile.ports) this.bridge.setMembership(p.name, untaggedOnly(null))
  }

  protected override seekAgain(): void {
    if (this.configured?.page.mode === 'fixed') this.addressed(null)
    else this.host.dhcp.start()
  }

  /** A new device that gets no lease answers on its factory address until one comes. */
  private fallBack(): void {
    const factory = this.profile.factory.address
    if (this.configured || !factory) return
    const [address, length] = factory.split('/') as [string, string]
    this.host.net.set(toNumber(address), Number(length))
  }
}

export class ManagedSwitch extends PageHost {}

export const managedSwitches: Behaviour = {
  is: ({ kind, vlan }) => kind === 'switch' && vlan === 'managed',
  make: ({ around, device, profile, hardwareAddress, flash }) =>
    new ManagedSwitch(around, device.id, profile, hardwareAddress, flash()),
}
