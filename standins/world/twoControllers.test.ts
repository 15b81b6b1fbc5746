/** A lease that tells of one controller, and a configuration that tells of another. */
import { expect, it } from 'vitest'
import { broughtUp, mended, pass } from '../../tests/sites/broughtUp'
import type { Appliance } from '../devices/appliance'

it('who is not known at the one asks the other, and does not stay in front of a door', async () => {
  const { world, controller } = await broughtUp(mended())
  const box = (id: string): Appliance => world.boxes.get(id) as Appliance
  const [gateway, unit] = [box('gateway'), box('quay-ap')]
  const { configuration } = gateway.flash
  if (configuration?.kind !== 'gateway') throw new Error('it is set up as a gateway')
  // A neighbour that has not gone back yet tells of a controller that knows nobody.
  const elsewhere = 'http://controller.internal:8043'
  controller.strangers.add(elsewhere)
  gateway.flash.configuration = {
    ...configuration,
    segments: configuration.segments.map((s) =>
      s.dhcp ? { ...s, dhcp: { ...s.dhcp, controllerUrl: elsewhere } } : s,
    ),
  }
  gateway.restart()
  await pass(world, 300)
  unit.flash.token = null
  controller.reports.clear()
  unit.restart()
  await pass(world, 900)
  expect(controller.reports.has(unit.flash.serial)).toBe(true)
  expect(unit.light).toBe('in-service')
})
