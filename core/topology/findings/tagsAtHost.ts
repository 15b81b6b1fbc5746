/** C-15: tagged segments on a socket that leads to a host, which hears none of them. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'wiring/tags-at-host',
  severity: 'caution',
  catches: ['C-15'],
  title: 'Tags on the socket of a host',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links', 'segments'],
  *check(model) {
    for (const link of Object.values(model.plan.links))
      for (const [portId, otherId] of [
        [link.a, link.b],
        [link.b, link.a],
      ] as const) {
        const port = model.port(portId)
        const other = model.port(otherId).deviceId
        if (
          port.taggedSegmentIds.length === 0 ||
          model.profileOf(port.deviceId).vlan !== 'managed' ||
          model.profileOf(other).kind !== 'host'
        )
          continue
        const names = port.taggedSegmentIds.map((id) => model.vlanName(id)).join(', ')
        yield {
          subjects: [portId, other, ...port.taggedSegmentIds],
          text:
            `${model.portName(portId)} leads to ${model.device(other).name} and sends ` +
            `${names} to it with tags.`,
          why: 'The host does not need them, and whoever plugs a laptop with VLANs into that socket is in all of them.',
          fixes: [
            {
              label: port.taggedSegmentIds.length === 1 ? 'Take the tag off' : 'Take the tags off',
              edits: port.taggedSegmentIds.map((segmentId) =>
                editCall('removeTag', { segmentId, portIds: [portId] }),
              ),
            },
          ],
        }
      }
  },
})
