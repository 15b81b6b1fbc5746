/** C-06: a socket used as uplink that is LAN by its profile, or the reverse. */
import { editCall } from '../../plan'
import type { SiteModel } from '../../topology'
import { defineRule, type Fix } from '../../findings/rule'

/** A socket of the same device that has a role and nothing in it. */
function freeSocket(model: SiteModel, deviceId: string, role: 'wan' | 'lan'): string | undefined {
  const lines = new Set(Object.values(model.plan.uplinks).map((u) => u.portId))
  return model
    .portsOf(deviceId)
    .find(
      (p) =>
        model.profilePortOf(p.id).role === role &&
        model.profilePortOf(p.id).medium === 'copper' &&
        !model.linkAt(p.id) &&
        !lines.has(p.id),
    )?.id
}

export default defineRule({
  id: 'wiring/port-role',
  severity: 'blocker',
  catches: ['C-06'],
  title: 'A socket is used for what it is not',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links', 'uplinks'],
  *check(model) {
    for (const u of Object.values(model.plan.uplinks)) {
      if (!u.portId || model.profilePortOf(u.portId).role === 'wan') continue
      const device = model.port(u.portId).deviceId
      const free = freeSocket(model, device, 'wan')
      yield {
        subjects: [u.portId, u.id],
        text: `${u.name} goes into ${model.portName(u.portId)}, which is a LAN socket by default.`,
        why: 'It would hand out leases towards the provider and ask for none.',
        numbers: [
          {
            label: 'line sockets',
            value:
              model
                .portsOf(device)
                .filter((p) => model.profilePortOf(p.id).role === 'wan')
                .map((p) => p.name)
                .join(', ') || 'none',
            how: `roles in the profile ${model.profileOf(device).name}`,
          },
        ],
        fixes: free
          ? [
              {
                label: `Plug ${u.name} into ${model.portName(free)}`,
                edits: [editCall('changeUplink', { id: u.id, changes: { portId: free } })],
              },
            ]
          : [],
      }
    }
    for (const link of Object.values(model.plan.links))
      for (const end of [link.a, link.b]) {
        if (model.profilePortOf(end).role !== 'wan') continue
        const { deviceId } = model.port(end)
        const free = freeSocket(model, deviceId, 'lan')
        const fixes: Fix[] = free
          ? [
              {
                label: `Move the plug to ${model.portName(free)}`,
                edits: [editCall('movePlug', { linkId: link.id, fromPortId: end, toPortId: free })],
              },
            ]
          : []
        yield {
          subjects: [end, link.id],
          text: `A cable of the site is in ${model.portName(end)}, which is a line socket by default.`,
          why: 'No VLAN of the site travels there; what hangs on it is cut off.',
          fixes,
        }
      }
  },
})
