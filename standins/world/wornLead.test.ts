/** A lead of which one pair has no contact: devices say so, and go on. */
import { expect, it } from 'vitest'
import { fieldFindingsOf, type DeviceFacts } from '@mast/core/field'
import { siteModel } from '@mast/core/topology'
import { broughtUp, mended, pass } from '../../tests/sites/broughtUp'
import { faultsOffered } from '../faults'

it('is a remark with the usual causes while it is in, and none before and after', async () => {
  const plan = mended()
  const model = siteModel(plan)
  const { world, controller } = await broughtUp(plan)
  const { fault } = faultsOffered(plan).find((o) => o.fault.kind === 'worn-lead')!
  const slow = (): string[] => {
    const devices = model.devices
      .filter((d) => model.profileOf(d.id).adoptable)
      .map(
        (d) =>
          ({
            deviceId: d.id,
            state: 'in-service',
            callers: [],
            ports: controller.reports.get(d.serial!)!.ports,
          }) as unknown as DeviceFacts,
      )
    return fieldFindingsOf(model, {
      devices,
      foreign: [],
      steps: [],
      backups: [],
      clients: [],
      drills: [],
      nowMs: 0,
      clockSpeed: 1,
    })
      .filter((f) => f.catches.includes('C-20'))
      .map((f) => f.text)
  }
  expect(slow()).toEqual([])
  world.setFault(fault, true)
  await pass(world, 300)
  const [text, ...others] = slow()
  expect(others).toEqual([])
  expect(text).toMatch(/^The cable between .* came up at 100 Mbit\/s in place of 1 Gbit\/s\.$/)
  world.setFault(fault, false)
  await pass(world, 300)
  expect(slow()).toEqual([])
})
