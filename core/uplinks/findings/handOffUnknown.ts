/** C-01: a line may not be disconnected while a fact of its hand-off is unknown. */
import { gateFacts } from '../../survey'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'survey/hand-off-unknown',
  severity: 'caution',
  catches: ['C-01'],
  title: 'The old line may not be unplugged yet',
  sheet: 'survey',
  reads: ['uplinks'],
  *check(model) {
    for (const uplink of Object.values(model.plan.uplinks)) {
      const facts = gateFacts(uplink)
      const missing = facts.filter((f) => !f.known)
      if (missing.length === 0) continue
      yield {
        subjects: [uplink.id],
        text:
          `Of ${uplink.name} is not known yet: ` +
          `${missing.map((f) => (/^[A-Z][a-z]/.test(f.label) ? f.label.charAt(0).toLowerCase() + f.label.slice(1) : f.label)).join(', ')}.`,
        why: 'Once the old router is unplugged nobody can look them up any more, and the site is without a line.',
        numbers: [
          {
            label: 'known',
            value: `${facts.length - missing.length} of ${facts.length}`,
            how: 'facts that the cut-over gate asks for',
          },
          ...missing.map((f) => ({ label: f.label, value: 'look at', how: f.where })),
        ],
      }
    }
  },
})
