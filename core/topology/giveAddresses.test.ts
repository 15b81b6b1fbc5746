import { expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { runEdits } from '../plan'
import { giveAddresses } from './giveAddresses'
import { findingsOf } from '../findings'

const plan = quayside()
const given = (ids: string[], changes: Parameters<typeof giveAddresses>[2]) => {
  const outcome = runEdits(plan, 'addresses', giveAddresses(plan, ids, changes))
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.problems))
  return outcome.plan
}
const cameras = Object.values(plan.devices)
  .filter((d) => d.addressing.segmentId === 'cameras')
  .map((d) => d.id)

it('several at once get an address each, with the gateway of their segment where it is typed', () => {
  expect(cameras.length).toBeGreaterThan(1)
  const after = given(cameras, { mode: 'fixed' })
  const addresses = cameras.map((id) => after.devices[id]!.addressing.address)
  expect(new Set(addresses).size).toBe(cameras.length)
  expect(addresses).not.toContain(null)
  for (const id of cameras)
    expect(after.devices[id]!.addressing.gateway).toBe(plan.segments.cameras!.gateway)
  expect(findingsOf(after).filter((f) => f.ruleId === 'survey/duplicates')).toEqual([])
})
it('automatic has no address; another segment gives another one', () => {
  for (const id of cameras)
    expect(given(cameras, { mode: 'automatic' }).devices[id]!.addressing).toMatchObject({
      address: null,
      gateway: null,
    })
  const moved = given(['controller'], { segmentId: 'cameras' }).devices.controller!.addressing
  expect(moved.address).toMatch(/^10\.20\.40\./)
})
