/** A gateway that leads nowhere. */
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'survey/no-line',
  severity: 'note',
  catches: [],
  title: 'No line to the internet',
  sheet: 'survey',
  reads: ['uplinks', 'devices', 'profiles'],
  *check(model) {
    if (model.gateway && model.lines.length === 0)
      yield {
        subjects: [model.gateway.id],
        text: `The site has no line, and ${model.gateway.name} leads nowhere.`,
        why: 'Record the hand-off before the day, or leave it so where the site is to stand alone.',
        fixes: [],
      }
  },
})
