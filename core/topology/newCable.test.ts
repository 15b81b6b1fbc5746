import { expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { applyEdits, editCall, runEdits } from '../plan'
import { cableNotes, newCableEdits, socketWords } from './newCable'
import { siteModel } from './siteModel'

const bare = (() => {
  const plan = quayside()
  return applyEdits(
    plan,
    Object.keys(plan.links).map((id) => editCall('removeLink', { id })),
  )
})()
const model = siteModel(bare)
const optical = Object.keys(bare.ports).filter((p) => model.profilePortOf(p).medium === 'optical')
const after = (from: string, to: string) => {
  const outcome = runEdits(bare, 'cable', newCableEdits(model, 'new-cable', from, to, 3))
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.problems))
  return outcome.plan
}

it('between managed devices carries the management untagged and all others tagged', () => {
  const plan = after('gateway.3', 'switch.3')
  for (const id of ['gateway.3', 'switch.3']) {
    expect(plan.ports[id]!.untaggedSegmentId).toBe('management')
    expect(plan.ports[id]!.taggedSegmentIds).toHaveLength(Object.keys(plan.segments).length - 1)
  }
})
it("to a host carries the host's own segment", () => {
  const host = model.devices.find(
    (d) => model.profileOf(d.id).kind === 'host' && d.addressing.segmentId && !d.wirelessNetworkId,
  )!
  const port = model.portsOf(host.id)[0]!.id
  expect(after('switch.3', port).ports['switch.3']!.untaggedSegmentId).toBe(
    host.addressing.segmentId,
  )
})
it('says what an optical socket needs for copper, and a licence that is not there', () => {
  expect(optical.length).toBeGreaterThan(0)
  const [socket] = optical
  expect(cableNotes(model, socket!, 'switch.3').join()).toMatch(
    /is an optical socket and the other end a copper one: bring a copper plug/,
  )
  expect(cableNotes(model, 'gateway.3', 'switch.3')).toEqual([])
  const licensed = Object.keys(bare.ports).find((p) => model.profilePortOf(p).licenceId)!
  expect(socketWords(model, licensed)).toMatch(/needs .*, which is not there yet/)
  expect(cableNotes(model, licensed, 'switch.3').at(-1)).toMatch(/not there yet\.$/)
})
