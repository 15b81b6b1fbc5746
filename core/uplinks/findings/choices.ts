/** Choices of lines that lead nowhere, or that nobody ever comes to. */
import { ANYWHERE, editCall, inPlan, own, placeName, type LineChoice } from '../../plan'
import { defineRule } from '../../findings/rule'
import { choicesInOrder } from '../choice'

export default defineRule({
  id: 'uplinks/choices',
  severity: 'blocker',
  catches: [],
  title: 'A choice of lines that leads nowhere',
  sheet: 'uplinks',
  reads: ['lineChoices', 'uplinks', 'segments', 'services'],
  *check({ plan }) {
    const all = choicesInOrder(plan)
    const remove = (c: LineChoice) => [
      { label: 'Take it away', edits: [editCall('removeLineChoice', { id: c.id })] },
    ]
    for (const [n, c] of all.entries()) {
      const who =
        (c.from === ANYWHERE ? 'Everybody' : placeName(plan, c.from)) +
        (c.service === 'any' ? '' : ` for ${inPlan(plan.services, c.service).name}`)
      const names = c.uplinkIds.map((id) => inPlan(plan.uplinks, id).name)
      if (!c.uplinkIds.some((id) => own(plan.uplinks, id)?.portId)) {
        yield {
          key: `astray ${c.id}`,
          subjects: [c.id, ...c.uplinkIds],
          text:
            names.length === 0
              ? `${who} may leave by no line.`
              : `${who} may leave by ${names.join(', ')} alone, and none of it is in a socket.`,
          why: 'What a choice speaks of uses no other line, also where one is free.',
          fixes: remove(c),
        }
        continue
      }
      const before = all
        .slice(0, n)
        .find(
          (b) =>
            (b.from === ANYWHERE || b.from === c.from) &&
            (b.service === 'any' || b.service === c.service),
        )
      if (before)
        yield {
          key: `late ${c.id}`,
          severity: 'note',
          title: 'A choice of lines that nobody comes to',
          subjects: [c.id, before.id],
          text: `What is said of ${who} is never asked: an earlier choice speaks of all of it.`,
          why: 'The first choice that fits decides.',
          fixes: remove(c),
        }
    }
  },
})
