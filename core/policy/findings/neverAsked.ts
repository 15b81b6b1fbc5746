/** An intent that no packet ever meets: both ends are in one segment. */
import { editCall, placeName, type SitePlan } from '../../plan'
import { defineRule } from '../../findings/rule'

/** The segment that a place is, or lies in; undefined where it is in none or in several. */
function segmentOf(plan: SitePlan, place: string): string | undefined {
  if (Object.hasOwn(plan.segments, place)) return place
  if (Object.hasOwn(plan.devices, place))
    return plan.devices[place]!.addressing.segmentId ?? undefined
  return undefined
}

export default defineRule({
  id: 'policy/never-asked',
  severity: 'note',
  catches: [],
  title: 'A statement about what never passes the gateway',
  sheet: 'policy',
  reads: ['segments', 'devices', 'intents', 'profiles'],
  *check(model) {
    const { plan } = model
    for (const i of Object.values(plan.intents)) {
      const [from, to] = [segmentOf(plan, i.from), segmentOf(plan, i.to)]
      if (from === undefined || from !== to || i.to === model.gateway?.id) continue
      yield {
        subjects: [i.id, i.from, i.to],
        text:
          `${placeName(plan, i.from)} to ${placeName(plan, i.to)} stays within ` +
          `${model.segment(from).name}; the gateway is not asked, and the statement has no effect.`,
        why:
          'Hosts of one segment reach each other directly. Put one of them into another segment, ' +
          'or keep wireless clients apart.',
        fixes: [{ label: 'Take it out', edits: [editCall('removeIntent', { id: i.id })] }],
      }
    }
  },
})
