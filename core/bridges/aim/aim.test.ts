import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { offAimBothDb, firstSideLobe, type Antenna } from '../antenna/pattern'
import { meaningOf } from './meaning'
import { Aiming } from './sweep'
import { expectedFromTrial } from './trial'

const dish: Antenna = {
  shape: 'dish',
  gainDbi: 25,
  widthDegrees: 8,
  heightDegrees: 8,
  frontToBackDb: 30,
  crossPolarDb: 25,
  diameterM: 0.45,
}

describe('what a reading means', () => {
  const lobe = firstSideLobe(dish)
  it.each([
    [-60, 'as-expected', []],
    [-62.5, 'as-expected', []],
    [-50, 'louder', ['louder']],
    [-60 - lobe.db, 'side-lobe', ['side-lobe', 'polarisation', 'connector', 'obstruction']],
    [-60 - 2 * lobe.db, 'side-lobe', ['side-lobe', 'polarisation', 'connector', 'obstruction']],
    [-66, 'connector', ['side-lobe', 'connector', 'polarisation', 'obstruction']],
    [-72.5, 'obstruction', ['side-lobe', 'obstruction', 'connector', 'polarisation']],
  ])('%d dBm where -60 are expected', (dbm, meaning, order) => {
    const read = meaningOf(dbm, -60, dish, ['vertical', 'vertical'])
    expect(read.meaning).toBe(meaning)
    expect(read.checks.map((c) => c.meaning)).toEqual(order)
  })
  it('looks at the polarisation first where the ends are not set alike', () => {
    expect(meaningOf(-85, -60, dish, ['vertical', 'horizontal']).checks[0]!.meaning).toBe(
      'polarisation',
    )
  })
  it('an antenna that hangs turned: first where only one way is sent, never where both are', () => {
    expect(meaningOf(-85, -60, dish, ['vertical', 'vertical']).meaning).toBe('polarisation')
    const both = meaningOf(-85, -60, dish, ['both', 'both'])
    expect(both.meaning).toBe('side-lobe')
    expect(both.checks.map((c) => c.meaning)).not.toContain('polarisation')
  })
  it('says how far beside the middle of the beam a few dB are', () => {
    const { offDegrees } = meaningOf(-66, -60, dish, ['both', 'both'])
    expect(-offAimBothDb(dish, offDegrees!, 0)).toBeCloseTo(6, 2)
  })
  it('with the final antenna only the gain at that end differs', () => {
    expect(expectedFromTrial({ gainDbi: 13, dbm: -71 }, 25)).toBe(-59)
  })
})

describe('aiming by its own advice', () => {
  it('finds the beam from anywhere within what a hand is off, by its own pattern', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -20, max: 20, noNaN: true }),
        fc.double({ min: -10, max: 10, noNaN: true }),
        (across, up) => {
          const aiming = new Aiming({
            antenna: dish,
            expectedDbm: -60,
            floorDbm: -95,
            startOffDegrees: 22,
          })
          for (let n = 0; n < 2000; n++) {
            const advice = aiming.advice()
            if (advice.kind === 'done') break
            const dbm = Math.max(
              -95,
              -60 + offAimBothDb(dish, advice.to.across - across, advice.to.up - up),
            )
            aiming.read({ ...advice.to, dbm })
          }
          const end = aiming.advice()
          expect(end).toMatchObject({ kind: 'done', isSideLobe: false })
          expect(aiming.best!.dbm).toBeGreaterThan(-61)
        },
      ),
      { numRuns: 60 },
    )
  })
  it('names the side lobe where it stops on one, and silence where nothing is heard', () => {
    const run = (level: (n: number) => number) => {
      const aiming = new Aiming({
        antenna: dish,
        expectedDbm: -60,
        floorDbm: -95,
        startOffDegrees: 4,
      })
      for (let n = 0; n < 2000; n++) {
        const advice = aiming.advice()
        if (advice.kind === 'done') return advice
        aiming.read({ ...advice.to, dbm: level(n) })
      }
      throw new Error('it does not end')
    }
    expect(run(() => -77.6)).toMatchObject({
      isSideLobe: true,
      words: expect.stringMatching(/side lobe/),
    })
    expect(run(() => -95).words).toMatch(/side lobe|Nothing/)
  })
})
