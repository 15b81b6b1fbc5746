import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { quayside } from '../../../tests/sites/quayside'
import { runSheetOf } from '../runSheet'
import { siteModel } from '../../topology'
import { safeStop } from './safeStop'

const sheet = runSheetOf(siteModel(quayside()))
const until = (id: string): Map<string, number> =>
  new Map(sheet.slice(0, sheet.findIndex((s) => s.id === id) + 1).map((s) => [s.id, 0]))
const says = (done: ReadonlyMap<string, number>): string[] =>
  safeStop(sheet, done, 1).open.map((o) => o.says)

describe('stopping for today', () => {
  it('is safe before anything is begun and after everything is done', () => {
    expect(safeStop(sheet, new Map(), 1)).toEqual({ running: [], open: [], isSafe: true })
    expect(safeStop(sheet, until(sheet.at(-1)!.id), 1).isSafe).toBe(true)
  })
  it('asks for the laptop back, and for a factory password that has power', () => {
    expect(says(until('gateway.bench-power'))).toEqual([
      'Harbour gateway has power and its factory password.',
    ])
    expect(says(until('gateway.laptop'))).toEqual([
      'Harbour gateway has power and its factory password.',
      'The laptop is on a fixed address.',
    ])
    expect(says(until('laptop-automatic'))).toEqual([])
  })
  it('leads a begun cut-over to its end, or back', () => {
    const [open] = safeStop(sheet, until('unplug-old'), 1).open
    expect(open).toMatchObject({
      stepId: 'unplug-old',
      orElse: expect.stringMatching(/^Plug the old router and the hosts in again/),
    })
    expect(open!.finishIds.every((id) => !until('unplug-old').has(id))).toBe(true)
    for (const s of sheet.filter((x) => x.isOutage && x.id !== 'unplug-old'))
      expect(open!.finishIds).toContain(s.id)
    expect(open!.finishSeconds).toBeGreaterThanOrEqual(60)
  })
  it('waits for what writes', () => {
    const done = new Map([...until('gateway.firmware')].map(([id]) => [id, 0]))
    done.set('gateway.firmware', 90_000)
    expect(safeStop(sheet, done, 30_000).running).toEqual([
      { stepId: 'gateway.firmware', leftSeconds: 60 },
    ])
    expect(safeStop(sheet, done, 90_000).running).toEqual([])
  })
  it('asks to give a line back that was taken away on purpose', () => {
    const all = runSheetOf(siteModel(kittiwakeHarbour()))
    const gone = all.find((s) => s.kind === 'failover')!
    const done = new Map(
      all.slice(0, all.indexOf(gone) + 1).map((s): [string, number] => [s.id, 0]),
    )
    const [open] = safeStop(all, done, 1).open
    expect(open).toMatchObject({ orElse: null, finishIds: gone.leavesOpen!.until })
  })
  it('names only steps of the sheet', () => {
    for (const plan of [quayside(), kittiwakeHarbour()]) {
      const steps = runSheetOf(siteModel(plan))
      const ids = new Set(steps.map((s) => s.id))
      for (const s of steps)
        for (const id of s.leavesOpen?.until ?? []) expect(ids, s.id).toContain(id)
    }
  })
})
