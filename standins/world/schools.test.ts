/** Devices of every school come up on one day, and end alike: in service, with a password of their own. */
import { expect, it } from 'vitest'
import { applyEdits, editCall as edit, type Device } from '@mast/core/plan'
import { quayside } from '../../tests/sites/quayside'
import { broughtUp, labelled, mended, prove } from '../../tests/sites/broughtUp'

const with_ = (id: string, changes: Partial<Device>): ReturnType<typeof edit> =>
  edit('changeDevice', { id, changes })

it('a day of all schools ends in the same proof, and nobody keeps a factory password', async () => {
  const plan = applyEdits(labelled(mended(quayside())), [
    with_('switch', { school: 'own-page', setUpBy: 'console' }),
    with_('quay-ap', { school: 'prepared' }),
    with_('gateway', { setUpAt: 'place' }),
  ])
  const up = await broughtUp(plan)
  for (const id of ['gateway', 'switch', 'quay-ap']) {
    const report = up.controller.reports.get(plan.devices[id]!.serial!)
    expect(report, id).toMatchObject({ factoryPassword: false, phase: 'running' })
    expect(report!.firmware).toBe(plan.profiles[plan.devices[id]!.profileId]!.firmware.wanted)
  }
  const { wrong, count } = await prove(up)
  expect(wrong).toEqual([])
  expect(count.contradicts).toBe(0)
})
