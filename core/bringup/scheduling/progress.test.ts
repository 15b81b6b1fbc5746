import { expect, it } from 'vitest'
import { stepOf, type Step } from '../step'
import { underWay } from './progress'

const step = (id: string, locationId: string | null): Step =>
  stepOf({ id, kind: id, title: id, needs: [], workSeconds: 60, waitSeconds: 300, locationId })
const sheet = [step('a', 'hall'), step('b', null), step('c', 'roof')]
const T = Date.UTC(2026, 5, 1, 9)
const tick = (
  stepId: string,
  s: number,
  by: string | null = null,
): Parameters<typeof underWay>[1][number] => ({
  stepId,
  doneMs: T + s * 1000,
  readyMs: T + (s + 300) * 1000,
  by,
})

it('is nowhere while nothing is done, nor for steps that are no more on the sheet', () => {
  expect(underWay(sheet, [], ['one'], T)).toBeNull()
  expect(underWay(sheet, [tick('gone', 0)], ['one'], T)).toBeNull()
})
it('counts from when the first step was begun, and knows where everybody stands', () => {
  const now = underWay(
    sheet,
    [tick('c', 240, 'Second'), tick('a', 60, 'First'), tick('b', 120, 'First')],
    ['First', 'Second', 'Third'],
    T + 300_000,
  )!
  expect(now.begunMs).toBe(T)
  expect(now.progress).toEqual({
    nowSeconds: 300,
    endedSeconds: new Map([
      ['a', 360],
      ['b', 420],
      ['c', 540],
    ]),
    standing: ['hall', 'roof', null],
  })
  expect(
    underWay(sheet, [tick('a', 60, 'x'), tick('b', 120)], ['One'], T)!.progress.standing,
  ).toEqual(['hall'])
})
it('goes on from what is done where the clock was set back', () =>
  expect(underWay(sheet, [tick('a', 60)], ['One'], T - 3_600_000)!.progress.nowSeconds).toBe(60))
