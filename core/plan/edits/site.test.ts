import { expect, it } from 'vitest'
import { quayside } from '../../../tests/sites/quayside'
import { applyEdits, intentsInOrder } from '..'

it('intents whose ranks run out are counted anew, in the same order', () => {
  const first = quayside()
  const ids = intentsInOrder(first).map((i) => i.id)
  const last = ids.at(-1)!
  const full = structuredClone(first)
  ids.forEach((id, n) => {
    full.intents[id]!.rank = 1_000_000 - ids.length + 1 + n
  })
  const before = applyEdits(full, [
    { name: 'putIntentFirst', args: { id: last, before: ids[0]! } },
    {
      name: 'stateIntent',
      args: { id: 'new', from: 'cameras', to: 'management', services: 'any', action: 'deny' },
    },
  ])
  const order = intentsInOrder(before).map((i) => i.id)
  expect(order.filter((id) => id !== 'new' && first.intents[id])).toEqual(
    [last, ...ids.slice(0, -1)].filter((id) => before.intents[id]),
  )
  for (const i of Object.values(before.intents)) expect(i.rank).toBeLessThanOrEqual(1_000_000)
})

it('a controller answers its own devices and those from their box at two ports', () => {
  const { port } = quayside().controller
  expect(() =>
    applyEdits(quayside(), [
      { name: 'setController', args: { bootstrap: { port, passTo: null } } },
    ]),
  ).toThrow(/those from their box need another/)
})
