import { expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { applyEdit, collections, editCall, idsOf, newId } from '.'

it('a new id is taken by nothing of any kind', () => {
  const plan = quayside()
  for (const c of collections)
    for (const id of Object.keys(plan[c])) {
      const made = newId(plan, id)
      expect(idsOf(plan).has(made), `${c} ${id} => ${made}`).toBe(false)
    }
  const outcome = applyEdit(
    plan,
    editCall('addSegment', {
      id: newId(plan, 'Visitor WiFi'),
      name: 'Visitor WiFi',
      purpose: 'guests',
      vlanId: 95,
      expectedHosts: 20,
    }),
  )
  expect(outcome.ok).toBe(true)
  expect([newId(plan, 'Internet'), newId(plan, 'x'.repeat(200)).length]).toEqual(['internet-2', 40])
})
