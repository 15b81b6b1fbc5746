/** C-89: the management segment without a tag on cables that can be unplugged in the open. */
import { mayAdminister } from '../../policy'
import { defineRule } from '../../findings/rule'

const exposed = ['outdoors', 'mast', 'roof', 'kiosk']

export default defineRule({
  id: 'wiring/outdoor-management',
  severity: 'note',
  catches: ['C-89'],
  title: 'Management on a plug in the open',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links', 'segments', 'locations'],
  *check(model) {
    const bySegment = new Map<string, { portId: string; deviceId: string; words: string }[]>()
    for (const link of Object.values(model.plan.links))
      for (const [portId, otherId] of [
        [link.a, link.b],
        [link.b, link.a],
      ] as const) {
        const port = model.port(portId)
        const segment = port.untaggedSegmentId
          ? model.plan.segments[port.untaggedSegmentId]
          : undefined
        const other = model.device(model.port(otherId).deviceId)
        const there = other.locationId ? model.plan.locations[other.locationId] : undefined
        const here = model.device(port.deviceId).locationId
        if (
          !segment ||
          !mayAdminister(segment) ||
          !there ||
          !exposed.includes(there.kind) ||
          here === other.locationId ||
          model.profileOf(port.deviceId).vlan !== 'managed'
        )
          continue
        bySegment.set(segment.id, [
          ...(bySegment.get(segment.id) ?? []),
          { portId, deviceId: other.id, words: `${other.name} at ${there.name}` },
        ])
      }
    for (const [segmentId, cables] of bySegment)
      yield {
        subjects: [...cables.flatMap((c) => [c.portId, c.deviceId]), segmentId],
        text:
          `${model.segment(segmentId).name} travels without a tag on ` +
          `${cables.length === 1 ? 'a cable' : `${cables.length} cables`} ` +
          `that can be unplugged in the open: ${cables
            .slice(0, 6)
            .map((c) => c.words)
            .join(', ')}${cables.length > 6 ? ` and ${cables.length - 6} more` : ''}.`,
        why:
          'Whoever pulls a plug there and puts in a laptop is in the segment from which ' +
          "everything is set. Let only the device's own hardware address in at that socket, or " +
          'lock the plug away.',
        fixes: [],
      }
  },
})
