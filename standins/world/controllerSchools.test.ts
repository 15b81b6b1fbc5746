/** What goes on and what stops while a controller is off, wherever it is. */
import { describe, expect, it } from 'vitest'
import { waysOf, withoutController } from '@mast/core/adoption'
import { applyEdits, editCall as edit, type SitePlan } from '@mast/core/plan'
import { proofTestsOf } from '@mast/core/proof'
import { siteModel } from '@mast/core/topology'
import { exercises } from '../../demo/exercises'
import { broughtUp, mended, pass, until } from '../../tests/sites/broughtUp'
import type { World } from './world'

const job = (number: string): SitePlan => {
  const { begin, decisions } = exercises.find((e) => e.job === number)!
  return mended(applyEdits(begin(), [...decisions]))
}
/** The clocks of those who call the controller, by their reports. */
const HALF_AN_HOUR = 1800

/** Whether the desk gets out, as the proof asks it. */
async function deskIsOut(world: World, plan: SitePlan): Promise<boolean> {
  const test = proofTestsOf(siteModel(plan)).find(
    (t) => t.probe && /^(Front desk|Reception) reaches the web on the internet$/.test(t.title),
  )!
  const [seen] = await until(world, world.probe([test.probe!]))
  return seen!.outcome === 'works'
}
const off = (world: World, deviceId: string, on: boolean): Promise<unknown> =>
  until(world, world.hand({ kind: 'power', deviceIds: [deviceId], on }))

describe('switched off', () => {
  it.each([
    [
      'a host of its own',
      job('J-14'),
      'switch',
      (w: World, on: boolean) => off(w, 'controller', on),
    ],
    [
      'one on the internet',
      job('J-01'),
      'switch',
      async (w: World, on: boolean) => {
        w.outside.controller.isOff = !on
      },
    ],
  ])(
    '%s: devices go on, also after a restart, and nobody hears of them',
    async (_, plan, id, turn) => {
      const { world, controller } = await broughtUp(plan)
      expect(await deskIsOut(world, plan)).toBe(true)
      await turn(world, false)
      await pass(world, 120)
      controller.reports.clear()
      await off(world, id, false)
      await off(world, id, true)
      await pass(world, HALF_AN_HOUR)
      expect(controller.reports.size).toBe(0)
      expect(await deskIsOut(world, plan)).toBe(true)
      const { stops, goesOn } = withoutController(siteModel(plan))
      expect(goesOn[0]).toBe('Devices run what they were sent last, also after a restart.')
      expect(stops[0]).toMatch(/^Nobody sees who has joined/)
      await turn(world, true)
      await pass(world, HALF_AN_HOUR)
      expect([...controller.reports.keys()].sort()).toEqual(
        siteModel(plan)
          .devices.flatMap((d) => (siteModel(plan).profileOf(d.id).adoptable ? d.serial! : []))
          .sort(),
      )
    },
  )
  it('inside the gateway: nothing leaves the site, and it is said', async () => {
    const plan = job('J-04')
    const { world, controller } = await broughtUp(plan)
    expect(await deskIsOut(world, plan)).toBe(true)
    await off(world, 'gateway', false)
    await pass(world, 120)
    controller.reports.clear()
    await pass(world, HALF_AN_HOUR)
    expect(controller.reports.size).toBe(0)
    expect(await deskIsOut(world, plan)).toBe(false)
    expect(withoutController(siteModel(plan)).stops.at(-1)).toMatch(/^All that the gateway does/)
  })
})

describe('a gateway from its box, and a controller on the internet', () => {
  const hosted = job('J-01')
  const line = (facts: object) => edit('recordHandOff', { uplinkId: 'line', facts })
  it.each<[string, boolean, ReturnType<typeof edit>[]]>([
    ['is told of it by its serial', true, []],
    ['is not where the line wants a tag', false, [line({ vlan: 7 })]],
    ['is not where the line wants an account', false, [line({ mode: 'pppoe', pppoeUser: 'shop' })]],
  ])('%s', async (_, found, edits) => {
    const plan = applyEdits(hosted, edits)
    const { ways } = waysOf(siteModel(plan), 'gateway')
    expect(ways.find((w) => w.kind === 'meeting-point')!.works).toBe(found)
    const world = new (await import('./world')).World(
      {
        plan,
        keys: {},
        linePasswords: {},
        tunnelFiles: {},
        seed: 3,
        revision: 1,
        release: 0,
        keysVersion: 0,
      },
      async () => null,
    )
    await until(world, world.hand({ kind: 'plug', deviceIds: ['gateway'] }))
    await until(world, world.hand({ kind: 'power', deviceIds: ['gateway'], on: true }))
    await until(world, world.hand({ kind: 'plug-line', lineId: 'line' }))
    await pass(world, HALF_AN_HOUR)
    const lamp = world.snapshot().devices.find((d) => d.id === 'gateway')!.light
    expect(lamp === 'seeking-controller').toBe(found)
  })
})

it('a watchdog that nobody answers starts its device anew, and one that is answered does not', async () => {
  const starts = async (address: string): Promise<number> => {
    const plan = applyEdits(job('J-14'), [
      edit('changeDevice', {
        id: 'switch',
        changes: { watchdog: { address, everySeconds: 60, failures: 3 } },
      }),
    ])
    const { world } = await broughtUp(plan)
    let seen = 0
    let was: string | null = 'in-service'
    for (let s = 0; s < HALF_AN_HOUR; s += 10) {
      await pass(world, 10)
      const { light } = world.snapshot().devices.find((d) => d.id === 'switch')!
      if (light === 'starting' && was !== 'starting') seen++
      was = light
    }
    return seen
  }
  expect(await starts(siteModel(job('J-14')).segment('management').gateway!)).toBe(0)
  expect(await starts('10.74.99.99')).toBeGreaterThan(2)
})
