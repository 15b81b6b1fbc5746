/** A port drops a tag, whatever its configuration says. */
import { z } from 'zod'
import { defineFault } from './fault'
import { firstAccessPoint, portName } from './onThePlan'

export const missingTag = defineFault({
  kind: 'missing-tag',
  schema: z.strictObject({
    kind: z.literal('missing-tag'),
    portId: z.string().max(64),
    vlan: z.int().min(1).max(4094),
  }),
  of: (f) => `${f.portId}:${f.vlan}`,
  offer(plan) {
    const feed = firstAccessPoint(plan)?.feed
    const tagged = feed?.taggedSegmentIds[0]
    if (!feed || !tagged) return undefined
    const vlan = plan.segments[tagged]!.vlanId
    return {
      fault: { kind: 'missing-tag', portId: feed.id, vlan },
      label: `Lose tag ${vlan} on ${portName(plan, feed)}`,
    }
  },
  put(world, { portId, vlan }, on) {
    const port = world.plan.ports[portId]
    const box = port && world.appliance(port.deviceId)
    if (!box) return { ok: false, text: 'only a managed device has tags to lose' }
    const lost = box.bridge.lostTags.get(port.name) ?? new Set()
    if (on) lost.add(vlan)
    else lost.delete(vlan)
    box.bridge.lostTags.set(port.name, lost)
    return undefined
  },
})
