import { expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { applyEdits, editCall } from '../../plan'
import { siteModel } from '../../topology'
import { gigabytesIn, onStandby } from './onStandby'

it('a line of 8 Mbit/s carries 3.6 GB an hour', () =>
  expect(gigabytesIn(8, 1)).toBeCloseTo(3.6, 12))

it('of the harbour has a tenth of the speed, takes nothing in, and costs what goes beyond its cap', () => {
  const [cellular] = onStandby(siteModel(kittiwakeHarbour()), 5)
  expect(cellular).toMatchObject({
    lineId: 'cellular-line',
    down: { before: 500, then: 60 },
    up: { before: 100, then: 15 },
    lostForwardIds: [expect.any(String)],
  })
  // 75 Mbit/s both ways for five hours are 168.75 GB; 80 are included, the others 4 each.
  expect(cellular!.most).toMatchObject({ hours: 5 })
  expect(cellular!.most!.gigabytes).toBeCloseTo(168.75, 9)
  expect(cellular!.most!.price).toBeCloseTo((168.75 - 80) * 4, 9)
})

it('what fits through is the least on the way, with inspection or without', () => {
  const fits = (...edits: Parameters<typeof applyEdits>[1]) =>
    onStandby(siteModel(applyEdits(kittiwakeHarbour(), edits)), 5)[0]!.fits
  expect(fits()).toMatchObject({ mbps: 60, by: 'line', people: 30 })
  const fast = editCall('recordHandOff', { uplinkId: 'cellular-line', facts: { downMbps: 5000 } })
  expect(fits(fast)).toMatchObject({ mbps: 3000, by: 'gateway' })
  const inspected = editCall('changeUplink', {
    id: 'cellular-line',
    changes: { isInspected: true },
  })
  expect(fits(fast, inspected)).toMatchObject({ mbps: 850, by: 'inspection', people: 425 })
  const unknown = editCall('recordHandOff', {
    uplinkId: 'cellular-line',
    facts: { downMbps: null },
  })
  expect(fits(unknown)).toBeNull()
})

it('says nothing of data where nobody recorded a speed, and of price where nothing is capped', () => {
  const facts = (changes: object) =>
    onStandby(
      siteModel(
        applyEdits(kittiwakeHarbour(), [
          editCall('recordHandOff', { uplinkId: 'cellular-line', facts: changes }),
        ]),
      ),
      5,
    )[0]!
  expect(facts({ downMbps: null }).most).toBeNull()
  expect(facts({ cap: 'none' }).most).toMatchObject({ beyondCap: 0, price: null })
  expect(facts({ addressKind: 'public' }).lostForwardIds).toEqual([])
})
