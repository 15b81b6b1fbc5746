/** A day of 300 steps laid out for 6 people, beside one pass of a priority queue over them. */
import TinyQueue from 'tinyqueue'
import { chanceOf } from '@mast/core/generator'
import { scheduleOf, stepOf, type Step } from '@mast/core/bringup'
import { row, timed, type Row } from './measure'

const STEPS = 300
const PEOPLE = 6
const PLACES = ['cupboard', 'hall', 'roof', 'mast', 'yard']

function steps(): Step[] {
  const chance = chanceOf(300)
  return Array.from({ length: STEPS }, (_, i) =>
    stepOf({
      id: `s${i}`,
      kind: 'work',
      title: `Step ${i}`,
      needs:
        i === 0
          ? []
          : [...new Set([0, 1].map(() => `s${chance.between(Math.max(0, i - 40), i - 1)}`))],
      workSeconds: chance.between(60, 900),
      waitSeconds: chance.between(0, 3) === 0 ? chance.between(60, 600) : 0,
      locationId: chance.one(PLACES),
      hands: chance.between(0, 15) === 0 ? 2 : 1,
      clears: chance.between(0, 15) === 0 ? 'place' : null,
    }),
  )
}
const travel = (a: string | null, b: string | null): number =>
  a === null || b === null ? 0 : 60 * Math.abs(PLACES.indexOf(a) - PLACES.indexOf(b))

export function days(): Row[] {
  const list = steps()
  return [
    row({
      name: `day of ${STEPS} steps for ${PEOPLE} people`,
      value: timed(
        5,
        () => [...list],
        (day) => {
          scheduleOf(day, PEOPLE, travel)
        },
      ),
      unit: 'ms',
      reference: 'one pass of a priority queue over them, ms',
      referenceValue: timed(
        200,
        () => list,
        (day) => {
          const queue = new TinyQueue<Step>([], (a, b) => a.workSeconds - b.workSeconds)
          for (const s of day) queue.push(s)
          while (queue.pop());
        },
      ),
      aim: 'listed: hundreds of orders are tried',
      met: () => true,
    }),
  ]
}
