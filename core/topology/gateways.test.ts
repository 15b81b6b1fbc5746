import { expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { findingsOf } from '../findings'
import { applyEdits, editCall as edit, type SitePlan } from '../plan'
import { siteModel } from '.'

const withSpare = (plan: SitePlan): SitePlan =>
  applyEdits(plan, [
    edit('addDevice', {
      id: 'a-spare',
      name: 'A spare gateway',
      profileId: plan.devices.gateway!.profileId,
      power: 'outlet',
    }),
  ])

it('of two gateways the one with the line is the gateway, whatever the other is called', () => {
  const plan = withSpare(quayside())
  expect(siteModel(plan).devices[0]!.id).toBe('a-spare')
  expect(siteModel(plan).gateway!.id).toBe('gateway')
  const words = (p: SitePlan): string[] => findingsOf(p).map((f) => f.id)
  expect(words(plan).filter((id) => !words(quayside()).includes(id))).toEqual([])
})
it('without a line it is the one with the cables', () => {
  const plan = applyEdits(withSpare(quayside()), [edit('removeUplink', { id: 'fibre' })])
  expect(siteModel(plan).gateway!.id).toBe('gateway')
})
