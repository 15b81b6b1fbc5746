/** What a kernel has for neighbours in a site of namespaces, read back. */
import { spawnSync } from 'node:child_process'
import { afterAll, expect, it } from 'vitest'
import { findIt, gearOf } from '@mast/core/bringup'
import { readSightings } from '@mast/core/formats'
import { siteModel } from '@mast/core/topology'
import { quayside } from '../sites/quayside'
import { Place } from './serving/place'

const plan = quayside()
const place = new Place(plan)
afterAll(() => place.end())

const AP = plan.devices['quay-ap']!
const STRANGER = '00:00:5e:00:53:77'
const inside = (space: string, file: string, ...args: string[]): string =>
  spawnSync('ip', ['netns', 'exec', space, file, ...args], { encoding: 'utf8', timeout: 60_000 })
    .stdout

it('what the laptop has for neighbours points out the one device and the stranger', () => {
  const segmentId = AP.addressing.segmentId!
  const subnet = plan.segments[segmentId]!.subnet!
  const at = (n: number): string => subnet.replace(/\d+\/\d+$/, String(n))
  place.host(segmentId, AP.hardwareAddress, at(77))
  place.host(segmentId, STRANGER, at(78))
  const laptop = place.host(segmentId, null, at(79))
  for (const n of [77, 78]) inside(laptop, 'ping', '-c', '1', '-W', '5', at(n))
  const files = [inside(laptop, 'ip', 'neigh'), inside(laptop, 'ip', '-j', 'neigh')]
  expect(files.map((f) => readSightings(f).kind)).toEqual(['neighbours', 'neighbours'])
  const model = siteModel(plan)
  for (const text of files) {
    const read = readSightings(text)
    expect(read.problems).toEqual([])
    const found = findIt(
      model,
      gearOf(model).filter((d) => d.id === AP.id),
      read.sightings,
    )
    expect(found.devices[0]).toMatchObject({ seenAt: at(77) })
    expect(found.strangers.map((s) => s.sighting)).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ address: at(78), hardwareAddress: STRANGER }),
      ]),
    )
  }
})
