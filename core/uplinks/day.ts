/** The line: its facts before anything is unplugged, and the moment it moves. */
import type { Day, DayPart } from '../bringup/day'
import type { Step } from '../bringup/step'
import { valueWords, type Uplink } from '../plan'
import { gateFacts, mayUnplug } from '../survey'

/** For a line to give an address or take a sign-in, s (common practice). */
const LINE_S = 60

/** Steps of further lines bear the line's id as well. */
const stepId = (kind: string, uplink: Uplink, nth: number): string =>
  nth === 0 ? kind : `${uplink.id}.${kind}`

/** All that the gate asks for, as it is recorded. */
const factWords = (day: Day, uplink: Uplink): Step['words'] =>
  gateFacts(uplink).map(({ key, label, known }) => {
    const value = uplink.handOff[key]
    if (!known) return { label, text: 'not known yet' }
    return key === 'passwordRef'
      ? { label, text: String(value), secret: true }
      : { label, text: valueWords(day.model.plan, value) }
  })

function record(day: Day): string[] {
  return day.model.lines.map((uplink, n) =>
    day.add({
      id: stepId('record-hand-off', uplink, n),
      kind: 'record-hand-off',
      title: `Record the hand-off of ${uplink.name} and photograph the old router`,
      needs: [],
      workSeconds: 600,
      locationId: day.benchAt,
      words: factWords(day, uplink),
      blockedBy: mayUnplug(uplink)
        ? null
        : {
            says: 'Facts of the hand-off are missing; before anything is unplugged complete them in',
            sheet: 'survey',
          },
    }),
  )
}

/** Old router out, line in. */
function cutOver(day: Day): string[] {
  const { model, add } = day
  if (model.lines.length === 0) return []
  const outage = { isOutage: true }
  const unplugged = add({
    ...outage,
    id: 'unplug-old',
    kind: 'unplug-old',
    title: 'Cut over: unplug the old router',
    needs: day.after('record', 'bench', 'adopt', 'lay'),
    workSeconds: 60,
    locationId: day.benchAt,
    words: [
      {
        label: 'Way back',
        text: 'plug the old router and the hosts in again; keep it until the proof is done',
      },
    ],
  })
  return model.lines.map((uplink, n) =>
    add({
      ...outage,
      id: stepId('plug-line', uplink, n),
      kind: 'plug-line',
      title: `Plug ${uplink.name} into ${uplink.portId ? model.portName(uplink.portId) : 'the gateway'}`,
      needs: [unplugged],
      workSeconds: 60,
      waitSeconds: LINE_S,
      locationId: day.benchAt,
      blockedBy: uplink.portId
        ? null
        : {
            says: 'The plan does not say which port the line goes into: choose it in',
            sheet: 'wiring',
          },
      action: { kind: 'plug-line', lineId: uplink.id },
      ifExceeded:
        'No address on the line: compare tag, kind and account with what was recorded. ' +
        'After a quarter of an hour go back to the old router.',
    }),
  )
}

export const uplinkDay: readonly DayPart[] = [
  { phase: 'record', steps: record },
  { phase: 'cut over', steps: cutOver },
]
