/** Where the controller is, of the four places where it can be. */
import { own } from './inherited'
import type { Device, SitePlan } from './schema'

export type ControllerPlace =
  | {
      /** On a host of its own. */
      readonly kind: 'host'
      readonly device: Device
      readonly address: string | null
    }
  | {
      /** Inside the gateway, called at its address in one of its segments. */
      readonly kind: 'gateway'
      readonly device: Device
      readonly segmentId: string | null
      readonly address: string | null
    }
  | { readonly kind: 'peer'; readonly peerId: string; readonly address: string }
  | { readonly kind: 'internet'; readonly name: string }

/** Null where the plan has none. */
export function controllerPlace(plan: SitePlan): ControllerPlace | null {
  const { hostDeviceId, elsewhere, hosted } = plan.controller
  const device = own(plan.devices, hostDeviceId ?? '')
  if (device && own(plan.profiles, device.profileId)?.kind === 'gateway') {
    const segment = Object.values(plan.segments)
      .filter((s) => s.gateway !== null)
      .sort(
        (a, b) =>
          Number(b.purpose === 'management') - Number(a.purpose === 'management') ||
          a.vlanId - b.vlanId ||
          (a.id < b.id ? -1 : 1),
      )[0]
    return {
      kind: 'gateway',
      device,
      segmentId: segment?.id ?? null,
      address: segment?.gateway ?? null,
    }
  }
  if (device) return { kind: 'host', device, address: device.addressing.address }
  if (elsewhere) return { kind: 'peer', ...elsewhere }
  return hosted ? { kind: 'internet', name: hosted.name } : null
}

/** Whether it is reached by a line. */
export const isFar = (place: ControllerPlace | null): boolean =>
  place?.kind === 'peer' || place?.kind === 'internet'
