/** Firmware of one device: another version than its kind, by hand on the bench and from the controller. */
import { expect, it } from 'vitest'
import { desiredConfiguration } from '@mast/core/adoption'
import { runSheetOf } from '@mast/core/bringup'
import { applyEdits, editCall as edit } from '@mast/core/plan'
import { releasedDocuments } from '@mast/core/release'
import { siteModel } from '@mast/core/topology'
import { exercises } from '../../demo/exercises'
import { broughtUp, mended } from '../../tests/sites/broughtUp'

const { begin, decisions } = exercises.find((e) => e.job === 'J-14')!
const usual = mended(applyEdits(begin(), [...decisions]))
const older = (id: string): string => siteModel(usual).profileOf(id).firmware.shipped
const plan = applyEdits(
  usual,
  ['gateway', 'switch'].map((id) =>
    edit('changeDevice', { id, changes: { firmwareWanted: older(id), firmware: '9.9' } }),
  ),
)

it('is what the run sheet loads by hand, and what the controller loads', async () => {
  const model = siteModel(plan)
  const step = runSheetOf(model).find((s) => s.id === 'gateway.firmware')!
  expect(step.title).toBe(`Firmware ${older('gateway')} on Gateway`)
  const { controller } = await broughtUp(plan)
  const runs = (id: string): string => controller.reports.get(plan.devices[id]!.serial!)!.firmware
  expect(runs('gateway')).toBe(older('gateway'))
  expect(runs('switch')).toBe(older('switch'))
  expect(runs('ap')).toBe(model.profileOf('ap').firmware.wanted)
})

it('goes out with what is sent next, to that device alone', () => {
  const secrets = {
    'wifi-wifi': 'seagull-on-the-bollard',
    'site-password': 'mussels-on-the-slip-7',
  }
  const of = (p: typeof plan) =>
    new Map(releasedDocuments(siteModel(p), secrets).documents.map((d) => [d.deviceId, d] as const))
  const back = applyEdits(usual, [
    edit('changeDevice', { id: 'switch', changes: { firmwareWanted: older('switch') } }),
  ])
  const [was, is] = [of(usual), of(back)]
  const changed = [...is].filter(
    ([id, d]) => d.firmware !== was.get(id)!.firmware || d.digest !== was.get(id)!.digest,
  )
  expect(changed.map(([id, d]) => [id, d.firmware])).toEqual([['switch', older('switch')]])
  expect(desiredConfiguration(siteModel(back), 'switch', secrets)).toEqual(
    desiredConfiguration(siteModel(usual), 'switch', secrets),
  )
})
