/** C-71: what the controller is to do by itself at an hour when nobody has started it. */
import { defineRule } from '../../findings/rule'
import { dayTime, editCall } from '../../plan'

export default defineRule({
  id: 'adoption/not-on-when-needed',
  severity: 'caution',
  catches: ['C-71'],
  title: 'The controller is off when it is wanted',
  sheet: 'wiring',
  reads: ['controller', 'site', 'devices', 'profiles'],
  *check(model) {
    const { runs } = model.plan.controller
    const { channels, replanMinute } = model.plan.site.wireless
    const radios = model.devices.filter((d) => model.profileOf(d.id).kind === 'access-point')
    if (!model.hasController || runs === 'always' || channels !== 'nightly' || radios.length === 0)
      return
    yield {
      subjects: model.controller ? [model.controller.id] : [radios[0]!.id],
      text: `Channels are planned anew at ${dayTime(replanMinute)} by a controller that is started only when needed.`,
      why: 'Nobody starts it at night: radios keep the channels that they have, whatever the neighbours do.',
      fixes: [
        { label: 'Keep the controller on', edits: [editCall('setController', { runs: 'always' })] },
        {
          label: 'Take the planned channels',
          edits: [editCall('changeSite', { wireless: { channels: 'planned' } })],
        },
      ],
    }
  },
})
