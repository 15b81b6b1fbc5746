/** C-37: a range extender that hears too little of what it repeats. */
import { editCall } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { bestOutlets, schools, standAt } from '../extenders/extending'
import { isRepeater } from '../extenders/isRepeater'
import { repeatingOf } from '../extenders/ofDevice'

export default defineRule({
  id: 'wifi/extender-too-far',
  severity: 'caution',
  catches: ['C-37'],
  title: 'A range extender stands too far out',
  sheet: 'wifi',
  reads: ['site', 'devices', 'profiles', 'floors', 'walls'],
  *check(model) {
    const school = model.plan.site.wireless.extenders
    const { atLast } = schools[school]
    for (const device of model.devices) {
      if (!isRepeater(model, device)) continue
      const now = repeatingOf(model, device)
      if (!now) continue
      const stand = standAt(now.case, device.place!)
      if (stand.percent >= atLast) continue
      const outlet = bestOutlets(now.case, now.floor.outlets, school).find((o) => o.isLetThrough)
      const fixes: Fix[] = outlet
        ? [
            {
              label: `Plug it in at ${outlet.at.x}, ${outlet.at.y} m, where it hears ${outlet.percent} %`,
              edits: [
                editCall('changeDevice', {
                  id: device.id,
                  changes: { place: { ...device.place!, ...outlet.at } },
                }),
              ],
            },
          ]
        : []
      yield {
        subjects: [device.id, now.pointId],
        text:
          `${device.name} hears ${model.device(now.pointId).name} with ${stand.percent} % ` +
          `(${Math.round(stand.dbm)} dBm) in ${now.band} GHz; ` +
          `placed ${schools[school].name} it is to have ${atLast} % or more.`,
        why: 'It passes on what it hears: a full signal beside it, and little behind it.',
        numbers: [
          {
            label: 'heard',
            value: `${stand.percent} %`,
            how: `2 x (${stand.dbm.toFixed(1)} + 100)`,
          },
          {
            label: 'to the access point',
            value: `${Math.round(stand.toPointMbps)} Mbit/s`,
            how: now.case.radios === 1 ? 'half of it behind a single radio' : 'two radios',
          },
        ],
        fixes,
      }
    }
  },
})
