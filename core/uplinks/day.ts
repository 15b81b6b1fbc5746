/** The line: its facts before anything is unplugged, and the moment it moves. */
import type { Day, DayPart } from '../bringup/day'
import type { Step } from '../bringup/step'
import { valueWords, type Uplink } from '../plan'
import { gateFacts, mayUnplug } from '../survey'
import { exactDuration } from '../words'
import { drillExpected, drillSegments } from './failover/drill'
import type { Took } from './failover/times'
import { turnsOf, type Turn } from './failover/turn'

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

/** A card and aerials go in while nothing has power. */
function antennas(day: Day): string[] {
  return day.model.lines.flatMap((u) => {
    const { cellular } = u
    if (u.handOff.mode !== 'cellular' || !cellular) return []
    return [
      day.add({
        id: `${u.id}.antennas`,
        kind: 'antennas',
        title: `Put card and antennas of ${u.name} in, before it has power`,
        needs: [],
        workSeconds: 300,
        locationId: day.benchAt,
        words: [
          ...(cellular.card ? [{ label: 'SIM card', text: cellular.card }] : []),
          ...(cellular.account ? [{ label: 'Account', text: cellular.account }] : []),
          ...(u.handOff.accessPointName
            ? [{ label: 'Access point name', text: u.handOff.accessPointName }]
            : []),
          ...cellular.antennas.map((a) => ({ label: `Socket ${a.socket}`, text: a.name })),
        ],
        safety:
          'A transmitter without its antenna may be spoilt, and nobody works close to an antenna ' +
          'that sends. On roofs and masts: fall protection, and not in thunder.',
        ifExceeded:
          'Lamps that never say that it is registered: account, access point name, then the ' +
          'antennas, each in its own socket.',
      }),
    ]
  })
}

/** Old router out, line in: the first one first, so that each is seen to lead out by itself. */
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
    noReturn: {
      why: 'From here on the site has no line.',
      wayBack: 'Plug the old router and the hosts in again; keep it until the proof is done.',
    },
  })
  let before = unplugged
  return model.lines.map((uplink, n) => {
    before = add({
      ...outage,
      id: stepId('plug-line', uplink, n),
      kind: 'plug-line',
      title: `Plug ${uplink.name} into ${uplink.portId ? model.portName(uplink.portId) : 'the gateway'}`,
      needs: [before],
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
    })
    return before
  })
}

const tookWords = (t: Took | null): string =>
  t === null
    ? 'never by itself'
    : t.best === t.worst
      ? exactDuration(t.worst)
      : `${exactDuration(t.best)} to ${exactDuration(t.worst)}`

/** Each line goes over to what comes after it, and is come back to, while somebody looks on. */
function tryFailover(day: Day): string[] {
  let before = day.after('prove')
  return turnsOf(day.model).flatMap((turn, nth) => {
    const steps = tryTurn(day, turn, nth, before)
    before = steps.slice(-1)
    return steps
  })
}
/** @returns the going over and the return */
function tryTurn({ model, benchAt, add }: Day, turn: Turn, nth: number, needs: string[]): string[] {
  const { line, next, away, watched } = turn
  const kind = watched.keepsSignal ? 'path' : 'cable'
  const expected = drillExpected(model, turn, kind)
  const { going, stopped } = drillSegments(model, turn)
  const gone = add({
    id: stepId('failover', line, nth),
    kind: 'failover',
    title: `Take ${line.name} away and see the site go over to ${next.name}`,
    needs,
    workSeconds: 180,
    waitSeconds: Math.round(Math.min(expected.over?.worst ?? 600, 3600)),
    locationId: benchAt,
    words: [
      ...(away.length > 0
        ? [{ label: 'Before', text: `${away.map((u) => u.name).join(', ')} away, and gone over` }]
        : []),
      {
        label: 'Pull',
        text:
          kind === 'path'
            ? 'what comes from the provider into its modem, not the lead to the gateway'
            : `the plug in ${model.portName(line.portId!)}`,
      },
      { label: 'Over after', text: tookWords(expected.over) },
      ...(going.length > 0 ? [{ label: 'Go on', text: going.join(', ') }] : []),
      ...(stopped.length > 0 ? [{ label: 'Stop', text: stopped.join(', ') }] : []),
      { label: 'Measure', text: 'on Uplinks, under Try it: it keeps what you measured' },
    ],
    leavesOpen: {
      says: `${line.name} is away on purpose.`,
      until: [stepId('failover-return', line, nth)],
      orElse: null,
    },
    ifExceeded:
      'Put it back. Look whether the other line leads out by itself, then at its tests and its order.',
  })
  const given = add({
    id: stepId('failover-return', line, nth),
    kind: 'failover-return',
    title: `Give ${line.name} back and see the site return`,
    needs: [gone],
    workSeconds: 180,
    waitSeconds: Math.round(Math.min(expected.back?.worst ?? 0, 3600)),
    locationId: benchAt,
    words: [{ label: 'Back after', text: tookWords(expected.back) }],
    ifExceeded:
      'Look at the return that the plan states; where it is by hand, somebody has to do it.',
  })
  return [gone, given]
}

export const uplinkDay: readonly DayPart[] = [
  { phase: 'record', steps: record },
  { phase: 'record', steps: antennas },
  { phase: 'cut over', steps: cutOver },
  { phase: 'try', steps: tryFailover },
]
