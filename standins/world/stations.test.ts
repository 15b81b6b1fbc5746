/** Who is on the air, how much moves, and what the controller says of one. */
import { expect, it } from 'vitest'
import { applyEdits } from '@mast/core/plan'
import { exercises } from '../../demo/exercises'
import { broughtUp, mended, pass } from '../../tests/sites/broughtUp'
import { faultsOffered } from '../control/messages'

const { begin, decisions } = exercises.find((e) => e.job === 'J-06')!
const plan = mended(applyEdits(begin(), [...decisions]))
const point = Object.values(plan.devices).find((d) => d.profileId === 'ap-indoor-2x2')!
const phone = Object.values(plan.devices).find((d) => d.wirelessNetworkId !== null)!
const mac = phone.hardwareAddress!
const MINUTE = 60

it('a client is reported with its address, and what it moves counts up from when it joined', async () => {
  const { world, controller } = await broughtUp(plan)
  const told = () => controller.reports.get(point.serial!)!.stations!
  const [first] = told()
  expect(told()).toHaveLength(1)
  expect(first).toMatchObject({
    hardwareAddress: mac,
    network: plan.wirelessNetworks[phone.wirelessNetworkId!]!.name,
    address: expect.stringMatching(/^10\./),
  })
  await pass(world, 10 * MINUTE)
  const [later] = told()
  const seconds = later!.sinceSeconds - first!.sinceSeconds
  expect(seconds).toBeGreaterThan(8 * MINUTE)
  // Some 20 to 400 kbit/s.
  const bps = ((later!.downOctets - first!.downOctets) * 8) / seconds
  expect(bps).toBeGreaterThan(20_000)
  expect(bps).toBeLessThan(400_000)
})

it('one that drains the line is held to a speed, shut out also after a restart, and let back', async () => {
  const { world, controller } = await broughtUp(plan)
  const told = () => controller.reports.get(point.serial!)!.stations!
  const { fault } = faultsOffered(plan).find((f) => f.fault.kind === 'draining-client')!
  const mbps = async (): Promise<number> => {
    const before = told()[0]!
    await pass(world, 10 * MINUTE)
    const after = told()[0]!
    const seconds = after.sinceSeconds - before.sinceSeconds
    return ((after.downOctets - before.downOctets) * 8) / seconds / 1e6
  }
  const rule = (more: object) =>
    controller.clientRules.splice(0, 1, {
      hardwareAddress: mac,
      isShut: false,
      limitKbps: null,
      ...more,
    })
  world.setFault(fault, true)
  await pass(world, MINUTE)
  expect(await mbps()).toBeCloseTo(80, 0)
  rule({ limitKbps: 5000 })
  await pass(world, MINUTE)
  expect(await mbps()).toBeCloseTo(5, 1)

  rule({ isShut: true })
  await pass(world, MINUTE)
  expect(told()).toEqual([])
  world.appliance(point.id)!.restart()
  await pass(world, 10 * MINUTE)
  expect(told()).toEqual([])
  rule({})
  await pass(world, 2 * MINUTE)
  expect(told()).toHaveLength(1)
})
