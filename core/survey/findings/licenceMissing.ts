/** C-05: a function whose licence, registration or account is missing. */
import { editCall } from '../../plan'
import { licencesOf } from '../../survey'
import { defineRule } from '../../findings/rule'

export default defineRule({
  id: 'survey/licence-missing',
  severity: 'blocker',
  catches: ['C-05'],
  title: 'A licence or registration is missing',
  sheet: 'survey',
  reads: ['devices', 'profiles', 'ports', 'links', 'uplinks', 'controller'],
  *check(model) {
    for (const { device, licence, held, neededBy } of licencesOf(model)) {
      // An account is made on the day; the run sheet asks for it.
      if (held || neededBy.length === 0 || licence.kind === 'account') continue
      const socket = model
        .portsOf(device.id)
        .find((p) => model.profilePortOf(p.id).licenceId === licence.id)
      const uplink = socket && Object.values(model.plan.uplinks).find((u) => u.portId === socket.id)
      const free =
        uplink &&
        model
          .portsOf(device.id)
          .find(
            (p) =>
              model.profilePortOf(p.id).role === 'wan' &&
              model.profilePortOf(p.id).licenceId === null &&
              !model.linkAt(p.id) &&
              !Object.values(model.plan.uplinks).some((u) => u.portId === p.id),
          )
      yield {
        subjects: [device.id, ...(uplink ? [uplink.id] : [])],
        text:
          `${device.name} has no ${licence.kind} '${licence.name}', and ${neededBy.join(', ')} ` +
          `${neededBy.length > 1 ? 'need' : 'needs'} it.`,
        why: `It unlocks ${licence.unlocks}; until then that stays shut, whatever is configured.`,
        fixes: [
          {
            label: `${licence.name} is there`,
            edits: [
              editCall('changeDevice', {
                id: device.id,
                changes: { licencesHeld: [...device.licencesHeld, licence.id] },
              }),
            ],
          },
          ...(free && uplink
            ? [
                {
                  label: `Plug ${uplink.name} into ${model.portName(free.id)}`,
                  edits: [
                    editCall('changeUplink', { id: uplink.id, changes: { portId: free.id } }),
                  ],
                },
              ]
            : []),
        ],
      }
    }
  },
})
