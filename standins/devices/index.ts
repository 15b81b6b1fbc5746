/** How devices behave, the more particular before the others. */
import type { Profile } from '@mast/core/plan'
import { accessPoints } from './accessPoint'
import type { Behaviour } from './behaviour'
import { bridgeRadios } from './bridgeRadio'
import { gateways } from './gateway'
import { hosts } from './hostBox'
import { managedSwitches } from './pageHost'
import { passesOn } from './plainSwitch'

const behaviours: readonly Behaviour[] = [
  gateways,
  accessPoints,
  bridgeRadios,
  managedSwitches,
  hosts,
  passesOn,
]

/** @throws Error where nothing behaves like it */
export function behaviourOf(profile: Profile): Behaviour {
  const found = behaviours.find((b) => b.is(profile))
  if (!found) throw new Error(`no stand-in behaves like a ${profile.kind}`)
  return found
}
