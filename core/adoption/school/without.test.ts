import { expect, it } from 'vitest'
import { quayside } from '../../../tests/sites/quayside'
import { runSheetOf } from '../../bringup'
import { applyEdits, editCall as edit } from '../../plan'
import { siteModel } from '../../topology'
import { withoutController } from './without'

it('one that is on only when needed is stopped as the last of the day, with what stops meanwhile', () => {
  const model = siteModel(applyEdits(quayside(), [edit('setController', { runs: 'when-needed' })]))
  const sheet = runSheetOf(model)
  const last = sheet.at(-1)!
  expect(last.kind).toBe('controller-stop')
  expect(last.needs).toContain('prove-again')
  for (const stops of withoutController(model).stops) expect(last.words[0]!.text).toContain(stops)
  // No step of the day needs it any more.
  expect(sheet.filter((s) => s.needs.includes(last.id))).toEqual([])
})
it('what runs already is saved before anything is touched', () => {
  const stays = (ids: readonly string[]) =>
    runSheetOf(
      siteModel(
        applyEdits(
          quayside(),
          ids.map((id) => edit('changeDevice', { id, changes: { stays: true } })),
        ),
      ),
    )
  const sheet = stays(['switch'])
  const kept = sheet.find((s) => s.kind === 'keep-before')!
  expect(kept.words.map((w) => w.label)).toEqual([quayside().devices.switch!.name])
  const touched = sheet.findIndex((s) => s.deviceId === 'switch' && s.action !== null)
  expect(sheet.indexOf(kept)).toBeLessThan(touched)
  expect(stays([]).some((s) => s.kind === 'keep-before')).toBe(false)
})
it('one that is always on, or is inside the gateway or elsewhere, is left alone', () => {
  const stops = (args: object): boolean =>
    runSheetOf(siteModel(applyEdits(quayside(), [edit('setController', args)]))).some(
      (s) => s.kind === 'controller-stop',
    )
  expect(stops({ runs: 'always' })).toBe(false)
  expect(stops({ runs: 'when-needed', hosted: { name: 'fleet.example.net' } })).toBe(false)
  expect(stops({ runs: 'when-needed' })).toBe(true)
})
