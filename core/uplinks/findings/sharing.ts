/** Lines that are to share what leaves, and cannot. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'
import { groupsOf } from '../choice'
import { linesInUse } from '../failover/siteOutlook'

export default defineRule({
  id: 'uplinks/sharing',
  severity: 'caution',
  catches: [],
  title: 'Lines of one order that do not share',
  sheet: 'uplinks',
  reads: ['uplinks'],
  *check(model) {
    for (const group of groupsOf(linesInUse(model))) {
      if (group.length < 2 || group.some((u) => u.weight > 0)) continue
      yield {
        subjects: group.map((u) => u.id),
        text: `${group.map((u) => u.name).join(', ')} have the same order, and all of them a weight of 0.`,
        why: 'With nothing said of their shares they take turns, a slow line as often as a fast one.',
        fixes: [
          {
            label: 'Let each take one part',
            edits: group.map((u) => editCall('changeUplink', { id: u.id, changes: { weight: 1 } })),
          },
        ],
      }
    }
  },
})
