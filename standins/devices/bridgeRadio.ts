/**
 * A radio for bridges that a controller adopts: it passes frames as they are, has a page of its own,
 * takes the settings of its paths from its configuration, and reports what it hears.
 */
import type { Behaviour } from './behaviour'
import type { BridgeRadioConfiguration, PathState } from '@mast/protocol'
import { PageHost } from './pageHost'

/** Frames without a tag, and those of every VLAN (IEEE 802.1Q 9.6: 1 to 4094). */
const NO_TAG = 0
const ALL_TAGS: ReadonlySet<number> = new Set(Array.from({ length: 4094 }, (_, i) => i + 1))

export class BridgeRadio extends PageHost {
  /** What it hears; told by the world, which knows both ends. */
  hears: () => PathState[] = () => []
  /** Called when it sends otherwise than before. */
  onSettings: () => void = () => {}
  private isUp = false

  /** What a path was told; null while it starts, as from its box, or where it was told nothing. */
  told(port: string): BridgeRadioConfiguration['paths'][number] | null {
    const told = this.flash.configuration
    return this.isUp && told?.kind === 'bridge-radio'
      ? (told.paths.find((p) => p.port === port) ?? null)
      : null
  }
  protected override get pageVlan(): number {
    return this.configured?.page.vlan ?? NO_TAG
  }
  protected override pathStates(): PathState[] {
    return this.hears()
  }
  protected override bringUp(): void {
    super.bringUp()
    for (const p of this.profile.ports)
      this.bridge.setMembership(p.name, { untagged: NO_TAG, tagged: ALL_TAGS })
    this.isUp = true
    this.onSettings()
  }
  protected override bringDown(): void {
    super.bringDown()
    this.isUp = false
    this.onSettings()
  }
}

export const bridgeRadios: Behaviour = {
  is: ({ kind, adoptable }) => kind === 'bridge-radio' && adoptable,
  make({ around, device, profile, hardwareAddress, flash, onAir }) {
    const radio = new BridgeRadio(around, device.id, profile, hardwareAddress, flash())
    radio.onSettings = onAir
    return radio
  },
}
