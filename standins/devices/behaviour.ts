/** How the box of a device comes to be: each kind of behaviour has a file, and a place in the list. */
import type { Device, Profile } from '@mast/core/plan'
import type { ApplianceSurroundings, Flash } from './appliance'
import type { Box } from './box'
import type { HostSetup } from './hostBox'

/** What a box is made of. */
export interface Making {
  readonly around: ApplianceSurroundings
  readonly device: Device
  readonly profile: Profile
  readonly portNames: readonly string[]
  readonly hardwareAddress: string
  /** What a device with settings remembers as it comes from its box. */
  flash(): Flash
  /** What somebody set a host up with. */
  hostSetup(): HostSetup
  /** Told when what is sent on the air has changed. */
  onAir(): void
}

export interface Behaviour {
  /** Whether devices of a profile behave so; the first of the list that says yes does. */
  is(profile: Profile): boolean
  make(of: Making): Box
}
