/** C-26: a further line that nothing uses. */
import { uplinksInOrder } from '../../plan'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'survey/line-unused',
  severity: 'note',
  catches: ['C-26'],
  title: 'A line that nothing uses yet',
  sheet: 'survey',
  reads: ['uplinks'],
  *check(model) {
    const [first, ...others] = uplinksInOrder(model.plan)
    for (const u of others)
      yield {
        subjects: [u.id],
        text: `${u.name} is planned${u.portId ? '' : ' without a socket'}, and the gateway uses ${first!.name} alone.`,
        why: 'It is paid for and does not take over when the first one fails.',
        fixes: [],
      }
  },
})
