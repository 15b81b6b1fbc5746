/** C-26: a further line that nothing uses. */
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'survey/line-unused',
  severity: 'note',
  catches: ['C-26'],
  title: 'A line that nothing uses yet',
  sheet: 'survey',
  reads: ['uplinks'],
  *check(model) {
    const { wayOut } = model
    for (const u of model.lines)
      if (wayOut && u.portId === null)
        yield {
          subjects: [u.id],
          text: `${u.name} is planned without a socket, and the gateway uses ${wayOut.name} alone.`,
          why: 'It is paid for and does not take over when the first one fails.',
          fixes: [],
        }
  },
})
