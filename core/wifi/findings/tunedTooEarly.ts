/** C-38: channels that are to be planned anew by what is heard, before all hang where they stay. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'
import { listWords } from '../../words'
import { unsettledOf } from '../channels/unsettled'

export default defineRule({
  id: 'wifi/tuned-too-early',
  severity: 'caution',
  catches: ['C-38'],
  title: 'Channels are planned anew before all hang where they stay',
  sheet: 'wifi',
  reads: ['site', 'devices', 'profiles', 'wirelessNetworks'],
  *check(model) {
    if (model.plan.site.wireless.channels !== 'nightly') return
    const loose = unsettledOf(model)
    if (loose.length === 0) return
    yield {
      subjects: loose.map((d) => d.id),
      text:
        `Channels are planned anew each night, and ${listWords(loose.slice(0, 4).map((d) => d.name))}` +
        `${loose.length > 4 ? ` and ${loose.length - 4} more` : ''} ` +
        `${loose.length === 1 ? 'does' : 'do'} not hang where ${loose.length === 1 ? 'it stays' : 'they stay'} yet.`,
      why:
        'What they hear on the bench or on a ladder is not what they will hear; the plan is made ' +
        'for the wrong place.',
      fixes: [
        {
          label: 'Keep to the plan until all hang',
          edits: [editCall('changeSite', { wireless: { channels: 'planned' } })],
        },
      ],
    }
  },
})
