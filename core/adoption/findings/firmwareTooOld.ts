/** C-71: firmware below what the controller asks for at the least. */
import { isOlder } from '../../field/isOlder'
import { defineRule } from '../../findings/rule'
import { editCall } from '../../plan'

export default defineRule({
  id: 'survey/firmware-too-old',
  severity: 'caution',
  catches: ['C-71'],
  title: 'Firmware too old to be claimed',
  sheet: 'survey',
  reads: ['devices', 'profiles'],
  *check(model) {
    for (const d of model.devices) {
      const { firmware, adoptable } = model.profileOf(d.id)
      const now = d.firmware ?? firmware.shipped
      const wanted = model.firmwareWanted(d.id)
      if (adoptable && firmware.minimum && wanted && isOlder(wanted, firmware.minimum))
        yield {
          key: 'wanted',
          subjects: [d.id],
          text: `${d.name} is to run firmware ${wanted}; ${firmware.minimum} is the least that can be claimed.`,
          why: 'Once it has gone back so far the controller hears nothing of it any more.',
          numbers: [
            { label: 'to run', value: wanted, how: d.firmwareWanted ? 'by itself' : 'as its kind' },
            { label: 'least', value: firmware.minimum },
          ],
          fixes:
            d.firmwareWanted === null
              ? []
              : [
                  {
                    label: `Run ${firmware.wanted}, as its kind`,
                    edits: [
                      editCall('changeDevice', { id: d.id, changes: { firmwareWanted: null } }),
                    ],
                  },
                ],
        }
      if (!adoptable || !firmware.minimum || !now || !isOlder(now, firmware.minimum)) continue
      yield {
        subjects: [d.id],
        text:
          `${d.name} ${d.firmware ? 'has' : 'comes with'} firmware ${now}; ` +
          `${firmware.minimum} is the least that can be claimed.`,
        why: 'The claim would be taken, and the device would never answer to it. Load the newer one on the bench.',
        numbers: [
          { label: 'has', value: now, how: d.firmware ? 'as recorded' : 'as shipped' },
          { label: 'least', value: firmware.minimum },
        ],
        fixes: [],
      }
    }
  },
})
