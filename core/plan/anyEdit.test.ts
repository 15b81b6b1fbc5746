import { expect, it } from 'vitest'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { valueFor } from '../../tests/attacks/arbitrary'
import { quayside } from '../../tests/sites/quayside'
import { chanceOf } from '../generator'
import { applyRawEdit, edits, type SitePlan } from '.'
import { collections } from './kinds'

/** Few ids, so that one edit is often given the same thing twice. */
function someIds(plan: SitePlan, n: number): string[] {
  const chance = chanceOf(n)
  return collections
    .map((c) => Object.keys(plan[c]))
    .filter((keys) => keys.length > 0)
    .map((keys) => chance.one(keys))
}

it('every edit is done or refused with a reason, whatever its arguments say', () => {
  const chance = chanceOf(20_261_127)
  const outcomes = { done: 0, refused: 0 }
  for (const plan of [quayside(), dunlinSlipway()])
    for (let round = 0; round < 60; round++) {
      const words = {
        ids: someIds(plan, round),
        texts: ['10.44.10.3', '10.44.10.0/24', 'a name', '02:44:53:00:00:20', 'GB', '1'],
      }
      for (const [name, { args }] of edits) {
        const call = { name, args: valueFor(args, chance, words, 0.02) }
        const outcome = applyRawEdit(plan, call)
        if (outcome.ok) outcomes.done++
        else {
          outcomes.refused++
          expect(outcome.problems.length, JSON.stringify(call)).toBeGreaterThan(0)
        }
      }
    }
  expect(outcomes.done).toBeGreaterThan(200)
  expect(outcomes.refused).toBeGreaterThan(200)
})

it('an intent does not stand before itself', () => {
  const plan = quayside()
  const id = Object.keys(plan.intents)[0]!
  expect(applyRawEdit(plan, { name: 'putIntentFirst', args: { id, before: id } })).toMatchObject({
    ok: false,
    problems: [{ reason: 'an intent cannot stand before itself' }],
  })
})
