/** Somebody puts a socket into another VLAN at the page of the device, behind the controller's back. */
import { z } from 'zod'
import { defineFault } from './fault'
import { portName, wiredHosts } from './onThePlan'

const vlan = z.int().min(1).max(4094)

export const changedByHand = defineFault({
  kind: 'changed-by-hand',
  schema: z.strictObject({
    kind: z.literal('changed-by-hand'),
    portId: z.string().max(64),
    /** What the socket is put into, and what it was in. */
    vlan,
    was: vlan,
  }),
  of: (f) => f.portId,
  offer(plan) {
    for (const { host, at } of wiredHosts(plan)) {
      const home = plan.segments[host.addressing.segmentId!]
      const other = Object.values(plan.segments).find((s) => s.id !== home?.id)
      if (!home || !other || at.untaggedSegmentId !== home.id) continue
      return {
        fault: { kind: 'changed-by-hand', portId: at.id, vlan: other.vlanId, was: home.vlanId },
        label: `Put ${portName(plan, at)} into ${other.name} at its own page`,
      }
    }
    return undefined
  },
  put(world, { portId, vlan, was }, on) {
    const port = world.plan.ports[portId]
    const box = port && world.appliance(port.deviceId)
    const now = box?.flash.configuration
    if (!box?.powered || !now)
      return {
        ok: false,
        text: 'only a device that is set up and has power has a page to do it at',
      }
    const isTaken = box.setHere({
      ...now,
      ports: now.ports.map((p) =>
        p.name === port!.name ? { ...p, untagged: on ? vlan : was } : p,
      ),
    } as typeof now)
    if (!isTaken) return { ok: false, text: 'it is writing; wait' }
    return { ok: true, text: on ? 'its own page says that it is saved' : 'it is set back there' }
  },
})
