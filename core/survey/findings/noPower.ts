/**
 * C-03: equipment with no way to get power where it stands: no outlet within its lead, no powered
 * socket left, or not able to be fed over its cable. C-21: its lead does not reach.
 */
import { editCall, type Device } from '../../plan'
import type { SiteModel } from '../../topology'
import { defineRule, type Fix } from '../../findings/rule'

/** A switch with a powered socket that has nothing in it. */
const hasSpareSocket = (model: SiteModel): boolean =>
  model.devices.some((d) =>
    model
      .portsOf(d.id)
      .some((p) => model.profilePortOf(p.id).poeOutType !== null && !model.linkAt(p.id)),
  )

const overCable = (model: SiteModel, d: Device): Fix[] =>
  model.profileOf(d.id).poeClass !== null
    ? [
        {
          label: `Power ${d.name} over its cable`,
          edits: [editCall('changeDevice', { id: d.id, changes: { power: 'poe' } })],
        },
      ]
    : []

export default defineRule({
  id: 'survey/no-power',
  severity: 'blocker',
  catches: ['C-03', 'C-21'],
  title: 'Nothing powers it where it stands',
  sheet: 'survey',
  reads: ['devices', 'profiles', 'ports', 'links', 'locations'],
  *check(model) {
    const { locations } = model.plan
    for (const d of model.devices) {
      const profile = model.profileOf(d.id)
      const location = d.locationId ? locations[d.locationId] : undefined
      if (d.power === 'battery' || profile.drawW === 0) continue
      if (d.power === 'poe') {
        if (
          profile.poeClass !== null &&
          !model.portsOf(d.id).some((p) => model.linkAt(p.id)) &&
          !hasSpareSocket(model)
        )
          yield {
            subjects: [d.id],
            text: `${d.name} is to be powered over its cable, and no powered socket is left on any switch.`,
            why: 'It stays dark.',
            numbers: [{ label: 'powered sockets free', value: '0' }],
            fixes: location?.mains
              ? [
                  profile.leadM !== null
                    ? {
                        label: `Power ${d.name} from an outlet`,
                        edits: [
                          editCall('changeDevice', { id: d.id, changes: { power: 'outlet' } }),
                        ],
                      }
                    : {
                        label: `Power ${d.name} by an injector beside an outlet`,
                        edits: [
                          editCall('changeDevice', { id: d.id, changes: { power: 'injector' } }),
                        ],
                      },
                ]
              : [],
          }
        continue
      }
      if (!location) continue
      if (!location.mains)
        yield {
          subjects: [d.id, location.id],
          text:
            `${d.name} needs an outlet${d.power === 'injector' ? ' for its injector' : ''}, ` +
            `and ${location.name} has no mains in reach.`,
          why:
            profile.poeClass === null
              ? 'It cannot be fed over its cable either; move it, or have an outlet put in by a licensed electrician.'
              : 'It stays dark.',
          fixes: overCable(model, d),
        }
      else if (
        d.power === 'outlet' &&
        profile.leadM !== null &&
        location.outletDistanceM !== null &&
        profile.leadM < location.outletDistanceM
      )
        yield {
          catches: ['C-21'],
          subjects: [d.id, location.id],
          text:
            `The lead of ${d.name} is ${profile.leadM} m long, and the outlet at ` +
            `${location.name} is ${location.outletDistanceM} m away.`,
          why: 'It does not reach; a chain of extension leads is no fixed installation.',
          numbers: [
            {
              label: 'missing',
              value: `${Math.round((location.outletDistanceM - profile.leadM) * 10) / 10} m`,
            },
          ],
          fixes: [
            ...overCable(model, d),
            {
              label: `Measured again: ${profile.leadM} m`,
              edits: [
                editCall('changeLocation', {
                  id: location.id,
                  changes: { outletDistanceM: profile.leadM },
                }),
              ],
            },
          ],
        }
    }
    for (const location of Object.values(locations)) {
      if (location.outlets === null) continue
      const users = model.devices.filter(
        (d) =>
          d.locationId === location.id &&
          (d.power === 'outlet' || d.power === 'injector') &&
          model.profileOf(d.id).leadM !== null &&
          model.profileOf(d.id).drawW > 0,
      )
      if (users.length <= location.outlets) continue
      const movable = users.find((d) => model.profileOf(d.id).poeClass !== null)
      yield {
        subjects: [location.id, ...users.map((d) => d.id)],
        text:
          `${users.map((d) => d.name).join(', ')} want ${users.length} outlets at ` +
          `${location.name}, which has ${location.outlets}.`,
        why: 'Somebody will unplug one for the other.',
        numbers: [{ label: 'outlets', value: `${users.length} of ${location.outlets}` }],
        fixes: [
          ...(movable ? overCable(model, movable) : []),
          {
            label: `A strip of ${users.length} is there`,
            edits: [
              editCall('changeLocation', { id: location.id, changes: { outlets: users.length } }),
            ],
          },
        ],
      }
    }
  },
})
