/** C-04: more devices than the controller accepts, by kind. */
import { editCall } from '../../plan'
import { defineRule } from '../../findings/rule'

const words = {
  gateway: 'gateways',
  switch: 'switches',
  'access-point': 'access points',
  'bridge-radio': 'bridge radios',
} as const

export default defineRule({
  id: 'survey/controller-full',
  severity: 'blocker',
  catches: ['C-04'],
  title: 'The controller does not take so many',
  sheet: 'survey',
  reads: ['controller', 'devices', 'profiles'],
  *check(model) {
    const { hostDeviceId } = model.plan.controller
    const host = hostDeviceId ? model.plan.devices[hostDeviceId] : undefined
    const capacity = host && model.profileOf(host.id).limits.controllerCapacity
    if (!host || !capacity) return
    for (const kind of Object.keys(words) as (keyof typeof words)[]) {
      const own = model.devices.filter(
        (d) => model.profileOf(d.id).kind === kind && model.profileOf(d.id).adoptable,
      )
      if (own.length <= capacity[kind]) continue
      const others = model.devices.filter(
        (d) =>
          d.id !== host.id &&
          (model.profileOf(d.id).limits.controllerCapacity?.[kind] ?? -1) >= own.length,
      )
      yield {
        subjects: [host.id, ...own.slice(capacity[kind]).map((d) => d.id)],
        text: `${host.name} takes ${capacity[kind]} ${words[kind]}; the plan has ${own.length}.`,
        why: `The last ${own.length - capacity[kind]} are heard and never adopted.`,
        numbers: [
          {
            label: words[kind],
            value: `${own.length} of ${capacity[kind]}`,
            how: `limits of ${model.profileOf(host.id).name}`,
          },
        ],
        fixes: others.map((d) => ({
          label: `Run the controller on ${d.name}`,
          edits: [editCall('setController', { hostDeviceId: d.id })],
        })),
      }
    }
  },
})
