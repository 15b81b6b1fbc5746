/** C-69: a serial that is none of its model. */
import { editCall } from '../../plan'
import { serialComplaint } from '../serialShape'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'survey/serial-shape',
  severity: 'caution',
  catches: ['C-69'],
  title: 'A serial that does not fit its model',
  sheet: 'survey',
  reads: ['devices', 'profiles'],
  *check(model) {
    for (const d of model.devices) {
      const complaint = d.serial && serialComplaint(d.serial, model.profileOf(d.id).serialShape)
      if (complaint)
        yield {
          subjects: [d.id],
          text: `${d.name}: ${complaint}.`.replace('?.', '?'),
          why: 'A claim under a mistyped serial waits for ever; read the label again.',
          fixes: [
            {
              label: `Clear it on ${d.name} until it is read again`,
              edits: [editCall('changeDevice', { id: d.id, changes: { serial: null } })],
            },
          ],
        }
    }
  },
})
