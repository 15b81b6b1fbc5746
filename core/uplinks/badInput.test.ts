/** What nobody should type, and what comes of it: clear words or a number, never a hang. */
import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { findingsOf } from '../findings'
import { applyEdits, editCall as edit, runEdits, type EditCall, type LineWatch } from '../plan'
import { siteModel } from '../topology'
import {
  drillExpected,
  turnOf,
  playYears,
  probeGbAMonth,
  readAntennas,
  readParts,
  readTests,
  siteCuts,
  siteOutlook,
  siteTuning,
  usualWatch,
  watchedLines,
} from '.'

const plan = kittiwakeHarbour()
const fibre = (changes: object): EditCall => edit('changeUplink', { id: 'fibre', changes })
const watch = (changes: Partial<LineWatch>): EditCall =>
  fibre({ watch: { ...usualWatch, tests: plan.uplinks.fibre!.watch!.tests, ...changes } })
const refused = (...edits: EditCall[]): string => {
  const outcome = runEdits(plan, 'typed', edits)
  return outcome.ok ? '' : outcome.problems.map((p) => p.reason).join('; ')
}
const outlook = (...edits: EditCall[]) => siteOutlook(siteModel(applyEdits(plan, edits)))!

describe('is refused with a reason', () => {
  it.each([
    ['no interval', watch({ intervalSeconds: 0 })],
    ['a million failures', watch({ failures: 1_000_000 })],
    ['no success', watch({ successes: 0 })],
    ['an answer that takes longer than the interval', watch({ answerSeconds: 60 })],
    ['more than all of it lost', fibre({ loss: { percent: 101, bursts: null } })],
    ['a weight below nothing', fibre({ weight: -1 })],
    ['a rank of a million', fibre({ rank: 1_000_000 })],
    ['an endless start-up', fibre({ startSeconds: Infinity })],
    [
      'a TCP test without a port',
      watch({ tests: [{ kind: 'tcp', target: 'a.example', port: null }] }),
    ],
    [
      'a line twice in one choice',
      edit('addLineChoice', {
        id: 'c',
        from: 'crew',
        service: 'any',
        uplinkIds: ['fibre', 'fibre'],
        rank: 1,
        reason: '',
      }),
    ],
  ])('%s', (_, call) => expect(refused(call)).not.toBe(''))
  it('what is typed as tests, parts and antennas', () => {
    for (const read of [
      readTests('ping'),
      readTests('carry 198.51.100.1'),
      readTests('tcp x.example port 0'),
      readTests(Array.from({ length: 17 }, (_, i) => `ping 198.51.100.${i}`).join(';')),
      readParts('duct'),
      readParts('river Thames'),
      readAntennas('Mast'),
      readAntennas('One: A; Two: a'),
    ])
      expect(read.ok ? '' : read.reason).not.toBe('')
  })
})

describe('is reckoned with', () => {
  it('nothing lost, and everything', () => {
    expect(outlook(fibre({ loss: { percent: 0, bursts: null } })).falseSwitchesAYear).toBe(0)
    const most = outlook(fibre({ loss: { percent: 99, bursts: null } }))
    expect(most.falseSwitchesAYear).toBeGreaterThan(0)
    // Left once and never come back to.
    const all = outlook(fibre({ loss: { percent: 100, bursts: null } }))
    expect(all.falseSwitchesAYear).toBe(0)
    expect(Number.isFinite(all.totalMinutes)).toBe(true)
  })
  it('no targets: what is dead behind a modem is never noticed', () => {
    expect(outlook(watch({ tests: [] })).over!.worst).toBe(Infinity)
    expect(probeGbAMonth({ ...usualWatch, tests: [] })).toBe(0)
    expect(siteTuning(siteModel(applyEdits(plan, [watch({ tests: [] })])))).not.toBeUndefined()
  })
  it('a thousand failures an hour apart', () => {
    const slow = watch({ failures: 1000, intervalSeconds: 3600, answerSeconds: 3600 })
    expect(outlook(slow).over!.worst).toBe(3_600_000 + 3600 + 25 + 1)
    const model = siteModel(applyEdits(plan, [slow]))
    expect(drillExpected(model, turnOf(model)!, 'path').over!.best).toBe(999 * 3600 + 3600 + 26)
  })
  it('lines that share everything', () => {
    const parts = (['duct', 'provider', 'modem', 'power strip', 'mast'] as const).map((kind) => ({
      kind,
      name: 'the same',
      failing: { timesAYear: 1, hours: 1 },
    }))
    const same = siteModel(
      applyEdits(plan, [
        fibre({ parts }),
        edit('changeUplink', { id: 'cellular-line', changes: { parts } }),
      ]),
    )
    expect(siteOutlook(same)!.minutes.sharedParts).toBeGreaterThan(290)
    expect(siteCuts(same)[0]!.names).toHaveLength(1)
  })
  it('lines that are dead all the time, and never', () => {
    const all = (failing: { timesAYear: number; hours: number }) => [
      fibre({ failing, parts: [] }),
      edit('changeUplink', { id: 'cellular-line', changes: { failing, parts: [] } }),
    ]
    expect(outlook(...all({ timesAYear: 0, hours: 0 })).minutes.together).toBe(0)
    const worst = outlook(...all({ timesAYear: 100_000, hours: 8766 }))
    expect(worst.totalMinutes).toBeLessThanOrEqual(8766 * 60 * 1.001)
    expect(worst.totalMinutes).toBeGreaterThan(8766 * 60 * 0.99)
  })
  it('weights of zero are remarked on, and shared in turn', () => {
    const zero = applyEdits(plan, [
      fibre({ weight: 0 }),
      edit('changeUplink', { id: 'cellular-line', changes: { weight: 0, rank: 0 } }),
    ])
    expect(findingsOf(zero).map((f) => f.ruleId)).toContain('uplinks/sharing')
  })
  it('a year is played to its end whatever is set', () => {
    let n = 0
    const chance = (): number => (n = (n * 16_807 + 12_345) % 2_147_483_647) / 2_147_483_647
    const bad = siteModel(
      applyEdits(plan, [
        fibre({ loss: { percent: 100, bursts: null }, failing: { timesAYear: 400, hours: 1 } }),
        watch({ intervalSeconds: 60, answerSeconds: 2 }),
      ]),
    )
    for (const kind of ['at-once', 'by-hand'] as const)
      expect(
        playYears(watchedLines(bad), { kind } as { kind: 'at-once' }, 1, 1, chance).minutes[0],
      ).toBeGreaterThanOrEqual(0)
  })
})
