import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { runSheetOf } from '../../bringup'
import { applyEdits, editCall as edit, type EditCall } from '../../plan'
import { siteModel } from '../../topology'
import {
  drillExpected,
  drillKinds,
  drillParts,
  drillTimeline,
  judgeDrill,
  type Drill,
  type DrillKind,
} from './drill'
import { turnOf } from './turn'

const plan = kittiwakeHarbour()
const model = siteModel(plan)
const changed = (...edits: EditCall[]) => siteModel(applyEdits(plan, edits))
const expectedOf = (m: typeof model, kind: DrillKind, lineId?: string) =>
  drillExpected(m, turnOf(m, lineId)!, kind)
const drill = (more: Partial<Drill>): Drill => ({
  lineId: 'fibre',
  kind: 'path',
  overSeconds: 85,
  backSeconds: 470,
  measuredBy: 'stand-ins',
  isAfterRestart: false,
  segments: [],
  ...more,
})

describe('what is to be expected of a failover', () => {
  it('by its path, its modem and its cable', () => {
    // 11 to 12 intervals of 5 s, 2 s for the answer, 25 s start-up, 1 s to go over.
    expect(expectedOf(model, 'path').over).toMatchObject({ best: 83, worst: 88 })
    // The signal is gone at once.
    expect(expectedOf(model, 'cable').over).toMatchObject({ best: 26, worst: 26 })
    // 150 s start-up, 64 rounds of 5 s, 1 s; a plug finds its modem started.
    expect(expectedOf(model, 'modem').back!.worst).toBe(471)
    expect(expectedOf(model, 'cable').back!.worst).toBe(321)
  })
  it('lies around what is played round by round, at any moment', () => {
    for (const kind of drillKinds)
      for (const phase of [0, 0.3, 0.77, 0.999]) {
        const expected = expectedOf(model, kind)
        const played = drillTimeline(model, turnOf(model)!, kind, 600, phase)
        expect(played.overAt).toBeGreaterThanOrEqual(expected.over!.best - 1e-9)
        expect(played.overAt).toBeLessThanOrEqual(expected.over!.worst + 1e-9)
        const back = played.backAt! - played.mendedAt
        expect(back).toBeGreaterThanOrEqual(expected.back!.best - 1e-9)
        expect(back).toBeLessThanOrEqual(expected.back!.worst + 1e-9)
      }
  })
  it('by hand it does not come back, without tests a dead path is never left', () => {
    const byHand = changed(
      edit('changeSite', { failover: { back: { kind: 'by-hand', owner: 'Office' } } }),
    )
    expect(expectedOf(byHand, 'path').back).toBeNull()
    const untested = changed(edit('changeUplink', { id: 'fibre', changes: { watch: null } }))
    expect(expectedOf(untested, 'path')).toEqual({ over: null, back: null })
    expect(expectedOf(untested, 'cable').over!.worst).toBe(26)
    const alone = changed(edit('removeUplink', { id: 'cellular-line' }))
    expect(turnOf(alone)).toBeUndefined()
  })
  it('says who goes on and who stops', () => {
    const parts = drillParts(model, turnOf(model)!)
    expect(parts.filter((p) => !p.goesOn).map((p) => p.name)).toEqual(['Visitors'])
    const onlyCards = changed(
      edit('addLineChoice', {
        id: 'pay',
        from: 'payments',
        service: 'any',
        uplinkIds: ['fibre'],
        rank: 11,
        reason: '',
      }),
    )
    expect(
      drillParts(onlyCards, turnOf(onlyCards)!).filter((p) => p.segmentId === 'payments'),
    ).toEqual([
      { segmentId: 'payments', serviceId: null, name: 'Payments', goesOn: false },
      {
        segmentId: 'payments',
        serviceId: 'svc-acquirer',
        name: 'Payments for card acquirer',
        goesOn: true,
      },
    ])
  })
})

describe('what was measured', () => {
  it('within one interval it is as foretold', () => {
    expect(judgeDrill(model, drill({}))).toEqual({
      isAsForetold: true,
      text: 'Over after 85 s, back after 470 s.',
    })
    expect(judgeDrill(model, drill({ overSeconds: 93 })).isAsForetold).toBe(true)
    // A hand and a stopwatch are given more.
    expect(judgeDrill(model, drill({ overSeconds: 97 })).isAsForetold).toBe(false)
    expect(judgeDrill(model, drill({ overSeconds: 97, measuredBy: 'hand' })).isAsForetold).toBe(
      true,
    )
  })
  it('says what came otherwise', () => {
    expect(judgeDrill(model, drill({ overSeconds: 140 })).text).toBe(
      'Going over took 140 s, foretold were 83 to 88 s.',
    )
    expect(judgeDrill(model, drill({ overSeconds: null })).text).toMatch(
      /Going over was not seen, foretold were 88 s at the most/,
    )
    expect(judgeDrill(model, drill({ backSeconds: null })).text).toMatch(/was not waited for/)
    expect(judgeDrill(model, drill({ lineId: 'gone' })).text).toMatch(
      /no other line takes over from this one/,
    )
  })
})

it('the run sheet plugs the lines one after the other, and ends with the failover and its return', () => {
  const steps = runSheetOf(model)
  const step = (id: string) => steps.find((s) => s.id === id)!
  expect(step('cellular-line.plug-line').needs).toEqual(['plug-line'])
  expect(step('cellular-line.antennas')).toMatchObject({ needs: [] })
  expect(step('cellular-line.antennas').words.map((w) => w.label)).toContain('Socket A')
  expect(step('cellular-line.antennas').safety).toMatch(/antenna/)
  expect(step('failover').needs).toEqual(['prove-again'])
  expect(step('failover').words).toContainEqual({ label: 'Stop', text: 'Visitors' })
  expect(step('failover-return').needs).toEqual(['failover'])
  const alone = runSheetOf(changed(edit('removeUplink', { id: 'cellular-line' })))
  expect(alone.some((s) => s.kind === 'failover')).toBe(false)
})
