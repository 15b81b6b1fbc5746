/** C-73: a controller on the internet, and devices that are told to ask for a name of the site. */
import { defineRule } from '../../findings/rule'
import { CONTROLLER_NAME } from '../../naming'
import { editCall } from '../../plan'

export default defineRule({
  id: 'adoption/unknown-name',
  severity: 'caution',
  catches: ['C-73'],
  title: 'Nobody answers for the name of the controller',
  sheet: 'wiring',
  reads: ['controller', 'devices', 'profiles'],
  *check(model) {
    const { hosted, discovery } = model.plan.controller
    const gear = model.devices.filter((d) => model.profileOf(d.id).adoptable)
    if (!hosted || discovery === 'dhcp-option' || gear.length === 0) return
    yield {
      subjects: [gear[0]!.id],
      text: `Devices ask for ${CONTROLLER_NAME}, and the controller is ${hosted.name} on the internet.`,
      why: 'The name is one of the site: it leads to an address here. A lease can say the other name.',
      fixes: [
        {
          label: 'Tell devices by their leases',
          edits: [editCall('setController', { discovery: 'dhcp-option' })],
        },
      ],
    }
  },
})
