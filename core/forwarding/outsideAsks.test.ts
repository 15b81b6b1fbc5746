import { expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { petrelStreet } from '../../demo/petrelStreet'
import { findingsOf } from '../findings'
import { applyEdits, editCall } from '../plan'
import { siteModel } from '../topology'
import { outsideAsks, type OutsideAsk } from './outsideAsks'

it('asks for what leaves by lines of its own beside what leaves like the rest', () => {
  const shop = petrelStreet()
  // As it was found, its LAN is on both sides of the gateway.
  const overlap = findingsOf(shop).find((f) => f.catches.includes('C-02'))!
  const asks = outsideAsks(siteModel(applyEdits(shop, overlap.fixes![0]!.edits)))
  expect(asks.map((a) => [a.segmentId, a.serviceId, a.hostId])).toEqual([
    ['shop-net', null, 'till'],
    ['shop-net', 'acquirer', 'till'],
  ])
  expect(asks[1]).toMatchObject({ protocol: 'tcp', port: 8443 })
})

it('leaves out who may not leave, and asks nothing over UDP', () => {
  const asks = outsideAsks(siteModel(kittiwakeHarbour()))
  expect(asks.some((a) => a.segmentId === 'instruments')).toBe(false)
  expect(asks.some((a) => a.protocol !== 'icmp' && a.protocol !== 'tcp')).toBe(false)
  const services = (of: readonly OutsideAsk[]) => of.flatMap((a) => a.serviceId ?? [])
  expect(services(asks)).toEqual(['svc-acquirer'])
  const alone = applyEdits(kittiwakeHarbour(), [editCall('removeLineChoice', { id: 'cards-out' })])
  expect(services(outsideAsks(siteModel(alone)))).toEqual([])
})
