/** C-28: inspection that makes the gateway slower than its line. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'
import { linesInUse } from '../failover/siteOutlook'

export default defineRule({
  id: 'uplinks/inspection-slows',
  severity: 'caution',
  catches: ['C-28'],
  title: 'Inspection makes the gateway slower than the line',
  sheet: 'uplinks',
  reads: ['uplinks', 'profiles', 'devices'],
  *check(model) {
    if (!model.gateway) return
    const { inspectedMbps } = model.profileOf(model.gateway.id).limits
    if (inspectedMbps === null) return
    for (const u of linesInUse(model)) {
      const { downMbps } = u.handOff
      if (!u.isInspected || downMbps === null || downMbps <= inspectedMbps) continue
      yield {
        subjects: [u.id, model.gateway.id],
        text:
          `${u.name} brings ${downMbps} Mbit/s, and ${model.gateway.name} looks into ` +
          `${inspectedMbps} Mbit/s at the most.`,
        why: 'All that is inspected goes past the processor, and the rest of the line is paid for and not used.',
        fixes: [
          {
            label: `Do not inspect ${u.name}`,
            edits: [editCall('changeUplink', { id: u.id, changes: { isInspected: false } })],
          },
        ],
      }
    }
  },
})
