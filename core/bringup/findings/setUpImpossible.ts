/** C-71: a device that is to fetch everything and cannot; one that is to be reached by a way it has not. */
import { defineRule } from '../../findings/rule'
import { editCall } from '../../plan'
import { wayNames, whyNotPrepared } from '../schools/school'

export default defineRule({
  id: 'bring-up/set-up-impossible',
  severity: 'caution',
  catches: ['C-71'],
  title: 'It cannot be set up as chosen',
  sheet: 'survey',
  reads: ['devices', 'profiles', 'controller', 'tunnels', 'peers', 'ports', 'links', 'segments'],
  *check(model) {
    for (const d of model.devices) {
      const why = d.school === 'prepared' ? whyNotPrepared(model, d) : null
      if (why)
        yield {
          subjects: [d.id],
          text: `${d.name} is to have everything from the controller, and cannot: ${why}.`,
          why:
            'It would wait for a call that never comes. The run sheet sets it up by hand until ' +
            'then; how each is set up is chosen on Bring-up.',
          fixes: [
            {
              label: `Set ${d.name} up by hand first`,
              edits: [editCall('changeDevice', { id: d.id, changes: { school: null } })],
            },
          ],
        }
      const { ways } = model.profileOf(d.id).setUp
      if (d.setUpBy && !ways.includes(d.setUpBy))
        yield {
          subjects: [d.id],
          text:
            `${d.name} is to be reached by ${wayNames[d.setUpBy]}, which its profile has not; ` +
            `it has ${ways.map((w) => wayNames[w]).join(', ')}.`,
          why: 'Whoever stands in front of it would look for what is not there.',
          fixes: [
            {
              label: `Reach ${d.name} by ${wayNames[ways[0]!]}`,
              edits: [editCall('changeDevice', { id: d.id, changes: { setUpBy: null } })],
            },
          ],
        }
    }
  },
})
