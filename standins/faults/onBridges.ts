/** Bridges of a plan on which faults tell: with a channel, and places for both ends. */
import type { Bridge, SitePlan } from '@mast/core/plan'

export const firstBridge = (plan: SitePlan): Bridge | undefined =>
  Object.values(plan.bridges).find((b) => b.a.channel !== null && b.b.channel !== null)
/** The device at an end. */
export const unitAt = (plan: SitePlan, bridge: Bridge, end: 'a' | 'b') =>
  plan.devices[plan.ports[plan.links[bridge.linkId]![end]]!.deviceId]!
