/**
 * C-71, C-73: devices that a controller could adopt, and none in the plan, or one that they cannot
 * be told where to call.
 */
import { giveKnownAddress } from '../../topology/freeAddress'
import { defineRule } from '../../findings/rule'
import { catalogue, collections, editCall, hasKnownAddress, newId } from '../../plan'
import { listWords } from '../../words'

const MOST_NAMED = 3

export default defineRule({
  id: 'adoption/no-controller',
  severity: 'caution',
  catches: ['C-71', 'C-73'],
  title: 'Nobody adopts these devices',
  sheet: 'survey',
  // A new id is new among all.
  reads: ['controller', 'site', ...collections],
  *check(model) {
    const { plan } = model
    const adoptable = model.devices.filter((d) => model.profileOf(d.id).adoptable)
    if (adoptable.length === 0) return
    const { controllerPlace: place } = model
    if (place && place.kind !== 'host') return
    const host = place?.device
    if (host) {
      if (place.address) return
      const give = hasKnownAddress(host) ? null : giveKnownAddress(plan, host)
      yield {
        key: 'address',
        subjects: [host.id],
        text: `${host.name} hosts the controller and has no address in the plan.`,
        why: 'Devices are told the exact address to call; without one nothing can be configured or claimed.',
        fixes: give ? [{ label: `Give ${host.name} a known address`, edits: [give] }] : [],
      }
      return
    }
    const named = adoptable.slice(0, MOST_NAMED).map((d) => d.name)
    const more = adoptable.length - named.length
    const there = model.devices.filter((d) => model.profileOf(d.id).kind === 'controller')
    const profile = Object.values(catalogue).find((p) => p.kind === 'controller')!
    const id = newId(plan, 'Controller')
    yield {
      key: 'none',
      subjects: adoptable.slice(0, MOST_NAMED).map((d) => d.id),
      text:
        `No controller is in the plan: ${listWords(more > 0 ? [...named, `${more} more`] : named)} ` +
        `${adoptable.length === 1 ? 'is' : 'are'} set up by ${adoptable.length === 1 ? 'its' : 'their'} own ` +
        `${adoptable.length === 1 ? 'page' : 'pages'}.`,
      why:
        'The run sheet has a step at the page of each instead of a claim. Nobody sees then ' +
        'whether they run what is planned, and a later change is typed into each of them again.',
      numbers: [
        {
          label: 'that a controller could adopt',
          value: String(adoptable.length),
          how: 'by profile',
        },
      ],
      fixes:
        there.length > 0
          ? there.map((d) => ({
              label: `Run the controller on ${d.name}`,
              edits: [editCall('setController', { hostDeviceId: d.id })],
            }))
          : [
              {
                label: `Add a ${profile.name}`,
                edits: [
                  editCall('addDevice', { id, name: 'Controller', profileId: profile.id }),
                  editCall('setController', { hostDeviceId: id }),
                ],
              },
            ],
    }
  },
})
