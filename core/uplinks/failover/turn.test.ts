import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { runSheetOf } from '../../bringup'
import { applyEdits, editCall as edit, unknownHandOff, type Uplink } from '../../plan'
import { siteModel } from '../../topology'
import { drillExpected, drillParts } from './drill'
import { sharesOf, waysAfter } from './sharing'
import { linesInUse, watchedLines } from './siteOutlook'
import { turnsOf } from './turn'

/** The harbour with a third line. */
const withThird = (third: Partial<Uplink>, changes: Partial<Uplink> = {}) =>
  siteModel(
    applyEdits(kittiwakeHarbour(), [
      edit('addUplink', {
        id: 'third',
        name: 'Third',
        portId: 'gateway.2',
        handOff: unknownHandOff,
        rank: 5,
        ...third,
      }),
      edit('changeUplink', { id: 'cellular-line', changes }),
    ]),
  )
const named = (model: ReturnType<typeof withThird>) =>
  turnsOf(model).map((t) => [t.line.id, t.next.id, t.away.map((u) => u.id), t.startSeconds])

describe('which line takes over from which', () => {
  it('goes down the order, those before taken for dead', () => {
    expect(named(withThird({}))).toEqual([
      ['fibre', 'cellular-line', [], 25],
      ['cellular-line', 'third', ['fibre'], 0],
    ])
  })
  it('those of one order take over from each other, one of weight 0 waits for all of them', () => {
    const model = withThird({ rank: 0, weight: 0, standby: 'cold', startSeconds: 40 }, { rank: 0 })
    expect(linesInUse(model).map((u) => u.id)).toEqual(['cellular-line', 'fibre', 'third'])
    expect(named(model)).toEqual([
      ['cellular-line', 'fibre', [], 0],
      ['fibre', 'cellular-line', [], 0],
    ])
  })
  it('with the first away, who has no other way stops nothing that had stopped before', () => {
    const model = withThird({})
    const [, second] = turnsOf(model)
    // Visitors may not leave by the cellular line, and stopped with the fibre.
    expect(drillParts(model, second!).map((p) => p.name)).not.toContain('Visitors')
    expect(drillExpected(model, second!, 'cable').over!.worst).toBe(1)
  })
  it('each is a step of the day, one after the other', () => {
    const steps = runSheetOf(withThird({}))
    const step = (id: string) => steps.find((s) => s.id === id)!
    expect(step('cellular-line.failover').needs).toEqual(['failover-return'])
    expect(step('cellular-line.failover').words).toContainEqual({
      label: 'Before',
      text: 'Harbour fibre away, and gone over',
    })
    expect(step('cellular-line.failover-return').needs).toEqual(['cellular-line.failover'])
  })
})

describe("a line whose provider's own box is asked", () => {
  const asked = (targets: string[], need: 'any' | 'all' | number) => {
    const tests = targets.map((target) => ({ kind: 'ping' as const, target, port: null }))
    const [fibre] = Object.values(kittiwakeHarbour().uplinks)
    const model = siteModel(
      applyEdits(kittiwakeHarbour(), [
        edit('changeUplink', {
          id: 'fibre',
          changes: { watch: { ...fibre!.watch!, tests, need } },
        }),
      ]),
    )
    const [first] = watchedLines(model)
    const { over } = drillExpected(model, turnsOf(model)[0]!, 'path')
    return { targets: first!.targets, need: first!.need, over: over?.worst ?? null }
  }
  it('is never left while that answers and one answer is enough', () => {
    // The fibre's provider has 192.168.1.0/24 on its own side.
    expect(asked(['192.168.1.1'], 'any')).toMatchObject({ targets: 0, over: null })
    expect(asked(['192.168.1.1', '198.51.100.53', '192.0.2.200'], 'any').over).toBeNull()
  })
  it('is left where more have to answer, by those beyond it', () => {
    expect(asked(['192.168.1.1', '198.51.100.53', '192.0.2.200'], 2)).toEqual({
      targets: 2,
      need: 1,
      over: 88,
    })
    expect(asked(['192.168.1.1', '198.51.100.53'], 'all')).toEqual({
      targets: 1,
      need: 1,
      over: 88,
    })
  })
})

describe('the shares of lines', () => {
  it('are those of the lowest order, by weight, or even', () => {
    const line = (order: number, weight: number) => ({ order, weight })
    expect(sharesOf([line(1, 5), line(0, 3), line(0, 1)])).toEqual([0, 0.75, 0.25])
    expect(sharesOf([line(0, 0), line(0, 0)])).toEqual([0.5, 0.5])
    expect(sharesOf([line(0, 0), line(0, 9)])).toEqual([0, 1])
  })
  it('add up over all lines and all states to the chance that more than one works', () => {
    const lines = watchedLines(withThird({ rank: 0 }, { rank: 0 }))
    const all = lines.map((_, i) => waysAfter(lines, i, null))
    for (const { ways } of all) for (const w of ways) expect(w.share).toBeGreaterThan(0)
    const served = all.reduce((sum, w) => sum + w.ways.reduce((s, x) => s + x.share, 0), 0)
    expect(served).toBeGreaterThan(0.99)
    expect(served).toBeLessThanOrEqual(1.01)
  })
})
