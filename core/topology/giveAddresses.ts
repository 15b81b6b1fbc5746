/** Segment and way of addressing of several devices at once, each with an address of its own. */
import { editCall, inPlan, type Device, type EditCall, type SitePlan } from '../plan'
import { firstFree } from './freeAddress'

/**
 * What is automatic has no address; what is reserved or typed gets the next free one of the fixed
 * block where segment or way are new, typed ones the gateway of their segment too.
 */
export function giveAddresses(
  plan: SitePlan,
  ids: readonly string[],
  changes: Partial<Device['addressing']>,
): EditCall[] {
  const devices = { ...plan.devices }
  return ids.map((id) => {
    const device = inPlan(devices, id)
    const next = { ...device.addressing, ...changes }
    const segment = next.segmentId ? inPlan(plan.segments, next.segmentId) : undefined
    if (next.mode === 'automatic') next.address = null
    else if (changes.mode || changes.segmentId)
      next.address = (segment && firstFree(devices, id, segment)) ?? null
    next.gateway = next.mode === 'fixed' ? (segment?.gateway ?? null) : null
    devices[id] = { ...device, addressing: next }
    return editCall('changeDevice', { id, changes: { addressing: next } })
  })
}
