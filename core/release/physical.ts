/**
 * What stands on the ground while a plan is edited: cables, hand-offs and the settings of hosts
 * follow the release, labels follow the plan.
 */
import { own, type Device, type SitePlan } from '../plan'

/**
 * @param head the plan as it is edited
 * @param released what devices have; null before the first release
 */
export function physicalPlan(head: SitePlan, released: SitePlan | null): SitePlan {
  if (!released || released === head) return head
  const labelled = (d: Device): Device => {
    const now = own(head.devices, d.id)
    return now && (now.serial !== d.serial || now.hardwareAddress !== d.hardwareAddress)
      ? { ...d, serial: now.serial, hardwareAddress: now.hardwareAddress }
      : d
  }
  return {
    ...released,
    devices: Object.fromEntries(Object.values(released.devices).map((d) => [d.id, labelled(d)])),
  }
}
