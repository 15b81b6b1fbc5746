/** C-30: nobody and nothing brings the first line back. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'
import { linesInUse } from '../failover/siteOutlook'

const QUIET_SECONDS = 300

export default defineRule({
  id: 'uplinks/no-return',
  severity: 'caution',
  catches: ['C-30'],
  title: 'Nothing says when the first line is used again',
  sheet: 'uplinks',
  reads: ['uplinks', 'site'],
  *check(model) {
    const [first, second] = linesInUse(model)
    if (!first || !second) return
    const { back } = model.plan.site.failover
    if (back && (back.kind !== 'by-hand' || back.owner !== '')) return
    yield {
      subjects: [first.id, second.id],
      text: back
        ? `${first.name} is gone back to by hand, and nobody is named who does it.`
        : `Nothing says when ${first.name} is used again after ${second.name} took over.`,
      why: 'The site stays on the slower and dearer line until somebody wonders.',
      fixes: [
        {
          label: 'Go back at once when it is good again',
          edits: [editCall('changeSite', { failover: { back: { kind: 'at-once' } } })],
        },
        {
          label: 'Go back after five minutes of quiet',
          edits: [
            editCall('changeSite', {
              failover: { back: { kind: 'after-quiet', seconds: QUIET_SECONDS } },
            }),
          ],
        },
      ],
    }
  },
})
