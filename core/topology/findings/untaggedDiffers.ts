/** C-15: the untagged VLAN differs between the two ends of a link. */
import { editCall } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'

export default defineRule({
  id: 'wiring/untagged-differs',
  severity: 'blocker',
  catches: ['C-15'],
  title: 'The ends of a cable disagree on the untagged VLAN',
  sheet: 'wiring',
  reads: ['devices', 'profiles', 'ports', 'links', 'segments'],
  *check(model) {
    const name = (id: string | null): string => (id ? model.vlanName(id) : 'nothing')
    for (const link of Object.values(model.plan.links)) {
      const [a, b] = [model.port(link.a), model.port(link.b)]
      const isManaged = [a, b].every(
        (p) =>
          model.profileOf(p.deviceId).vlan === 'managed' &&
          model.profilePortOf(p.id).role !== 'wan',
      )
      if (!isManaged || a.untaggedSegmentId === b.untaggedSegmentId) continue
      const take = (from: typeof a, to: typeof a): Fix[] =>
        from.untaggedSegmentId
          ? [
              {
                label: `Carry ${name(from.untaggedSegmentId)} untagged on ${model.portName(to.id)} too`,
                edits: [
                  editCall('setUntagged', { segmentId: from.untaggedSegmentId, portIds: [to.id] }),
                ],
              },
            ]
          : []
      yield {
        subjects: [a.id, b.id, link.id],
        text:
          `Untagged is ${name(a.untaggedSegmentId)} at ${model.portName(a.id)} and ` +
          `${name(b.untaggedSegmentId)} at ${model.portName(b.id)}.`,
        why:
          a.untaggedSegmentId && b.untaggedSegmentId
            ? 'Frames change their VLAN on the way: the two segments leak into each other.'
            : 'Untagged frames are dropped at one end; a new device behind it gets no address.',
        fixes: [...take(a, b), ...take(b, a)],
      }
    }
  },
})
