/** A site that was set up by its own pages comes under a controller later, with nothing set back. */
import { expect, it } from 'vitest'
import { desiredConfiguration, pageInService } from '@mast/core/adoption'
import { applyEdits, editCall as edit } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { exercises } from '../../demo/exercises'
import { broughtUp, pass, until } from '../../tests/sites/broughtUp'

it('each is told of it at its page, from where pages answer, and calls', async () => {
  const { begin, decisions } = exercises.find((e) => e.job === 'J-03')!
  const before = applyEdits(begin(), [...decisions])
  const { world, controller } = await broughtUp(before)
  await pass(world, 600)
  expect(controller.reports.size).toBe(0)
  const after = applyEdits(before, [
    edit('setController', { hosted: { name: 'fleet.example.net' }, port: 443 }),
  ])
  world.update({
    plan: after,
    keys: {},
    linePasswords: {},
    seed: 7,
    revision: 2,
    release: 0,
    keysVersion: 0,
  })
  const model = siteModel(after)
  const gear = model.devices.filter((d) => model.profileOf(d.id).adoptable)
  expect(gear.length).toBeGreaterThan(1)
  for (const d of gear) {
    const { address, from } = pageInService(model, d)
    // With an address of management, in the socket that has it without a tag.
    await until(
      world,
      world.hand({
        kind: 'laptop',
        plugInto: d.id,
        address: `${address!.replace(/\d+$/, '250')}/24`,
      }),
    )
    expect(from).toContain('Management')
    const outcome = desiredConfiguration(model, d.id, {
      'site-password': 'mussels-on-the-slip-7',
    })
    if (!outcome.ok) throw new Error(outcome.missing.join())
    const { configuration } = outcome.desired
    const reply = await until(
      world,
      world.hand({
        kind: 'page',
        deviceId: d.id,
        address: address!,
        act: 'configuration',
        configuration,
      }),
    )
    expect(reply, d.id).toEqual({ ok: true, text: 'writing' })
    await until(world, world.hand({ kind: 'laptop', plugInto: null, address: null }))
    await pass(world, 600)
  }
  await pass(world, 600)
  expect(gear.map((d) => controller.heard.has(d.serial!))).toEqual(gear.map(() => true))
})
