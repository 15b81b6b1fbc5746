/** Ten devices in trouble at once are told apart: whose fault it is, and who only hangs behind. */
import { expect, it } from 'vitest'
import { cablePath, siteModel } from '@mast/core/topology'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { broughtUp, labelled, mended, pass, prove, until } from '../../tests/sites/broughtUp'

it('each of ten that are off is named, or hangs behind one that is, and all of it is mended again', async () => {
  const up = await broughtUp(labelled(mended(kittiwakeHarbour())))
  const { world, plan } = up
  const model = siteModel(plan)
  const off = model.devices
    .filter((d) => model.profileOf(d.id).adoptable && d.id !== model.gateway!.id)
    .slice(-10)
    .map((d) => d.id)
  expect(off).toHaveLength(10)
  const turn = (on: boolean) => until(world, world.hand({ kind: 'power', deviceIds: off, on }))
  await turn(false)
  await pass(world, 900)
  const { causes } = await prove(up)
  const named = new Set(causes.flatMap((c) => c.subjects))
  const isBehind = (id: string): boolean =>
    (cablePath(model, id) ?? []).some(([out]) => out.deviceId !== id && named.has(out.deviceId))
  expect(off.filter((id) => !named.has(id) && !isBehind(id))).toEqual([])
  // Nobody is blamed who is neither off nor behind.
  const innocent = model.devices
    .filter((d) => model.profileOf(d.id).adoptable && !off.includes(d.id) && !isBehind(d.id))
    .map((d) => d.id)
  expect(
    causes
      .filter((c) => c.kind === 'device-missing')
      .flatMap((c) => c.subjects.filter((s) => innocent.includes(s))),
  ).toEqual([])
  await turn(true)
  await pass(world, 1800)
  expect((await prove(up)).wrong).toEqual([])
}, 240_000)
