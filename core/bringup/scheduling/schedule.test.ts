import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { stepOf, type Step } from '../step'
import { handOversOf } from './handOvers'
import { takingLonger } from './longer'
import { scheduleOf, type Schedule } from './schedule'
import type { Travel } from './travel'

const step = (id: string, needs: readonly string[], more: Partial<Step> = {}): Step =>
  stepOf({ id, kind: id, title: id, workSeconds: 60, ...more, needs: [...needs] })

/** Places on a line, so that no detour is shorter. */
const along: Record<string, number> = { cupboard: 0, hall: 90, roof: 240 }
const travel: Travel = (a, b) => (a === null || b === null ? 0 : Math.abs(along[a]! - along[b]!))

const days = (most: number): fc.Arbitrary<Step[]> =>
  fc
    .array(
      fc.record({
        work: fc.integer({ min: 1, max: 100 }),
        wait: fc.oneof(fc.constant(0), fc.integer({ min: 1, max: 300 })),
        needs: fc.array(fc.nat(20), { maxLength: 2 }),
        at: fc.constantFrom(null, 'cupboard', 'hall', 'roof'),
        clears: fc.constantFrom(null, null, null, 'place' as const, 'site' as const),
        hands: fc.constantFrom(1 as const, 1 as const, 2 as const),
      }),
      { minLength: 1, maxLength: most },
    )
    .map((list) =>
      list.map((s, i) =>
        step(`s${i}`, [...new Set(s.needs.filter((n) => n < i).map((n) => `s${n}`))], {
          workSeconds: s.work,
          waitSeconds: s.wait,
          locationId: s.at,
          clears: s.clears,
          hands: s.hands,
        }),
      ),
    )

/** By the definition alone, event by event; shares nothing with what it judges. */
function shortestByTryingAll(steps: readonly Step[], people: number): number {
  interface Job {
    step: Step
    who: number[]
    from: number
    to: number
    over: number
  }
  let best = Infinity
  const crews = (hands: number): number[][] => {
    const all = Array.from({ length: people }, (_, p) => p)
    return hands >= 2 && people >= 2
      ? all.flatMap((a) => all.filter((b) => b > a).map((b) => [a, b]))
      : all.map((a) => [a])
  }
  const isApart = (a: Step, b: Step): boolean =>
    a.clears === 'site' ||
    b.clears === 'site' ||
    (a.locationId !== null &&
      a.locationId === b.locationId &&
      (a.clears === 'place' || b.clears === 'place'))
  const go = (done: readonly Job[]): void => {
    const end = Math.max(0, ...done.map((j) => j.over))
    if (end >= best) return
    if (done.length === steps.length) {
      best = end
      return
    }
    for (const s of steps) {
      if (done.some((j) => j.step === s)) continue
      const before = s.needs.map((n) => done.find((j) => j.step.id === n))
      if (before.includes(undefined)) continue
      for (const who of crews(s.hands)) {
        const arrivals = who.map((p) => {
          const own = done.filter((j) => j.who.includes(p))
          const stands = own.findLast((j) => j.step.locationId !== null)?.step.locationId ?? null
          return Math.max(0, ...own.map((j) => j.to)) + travel(stands, s.locationId)
        })
        const from = Math.max(
          ...arrivals,
          ...before.map((j) => j!.over),
          ...done.filter((j) => isApart(j.step, s)).map((j) => j.to),
        )
        const to = from + s.workSeconds
        go([...done, { step: s, who, from, to, over: to + s.waitSeconds }])
      }
    }
  }
  go([])
  return best
}

function expectPossible(steps: readonly Step[], people: number, s: Schedule): void {
  const by = new Map(s.steps.map((x) => [x.stepId, x]))
  expect(by.size).toBe(steps.length)
  const crew = (id: string): number[] => {
    const { person, helper } = by.get(id)!
    return helper === null ? [person] : [person, helper]
  }
  for (const x of steps) {
    const own = by.get(x.id)!
    expect(crew(x.id)).toHaveLength(Math.min(x.hands, people))
    for (const n of x.needs) expect(own.startSeconds).toBeGreaterThanOrEqual(by.get(n)!.endSeconds)
    for (const y of steps) {
      if (x === y) continue
      const other = by.get(y.id)!
      const isShared = crew(x.id).some((p) => crew(y.id).includes(p))
      const isApart =
        x.clears === 'site' ||
        (x.clears === 'place' && x.locationId !== null && x.locationId === y.locationId)
      if (isShared || isApart)
        expect(
          own.handsFreeSeconds <= other.startSeconds || other.handsFreeSeconds <= own.startSeconds,
        ).toBe(true)
    }
  }
  for (let p = 0; p < people; p += 1) {
    let [at, free]: [string | null, number] = [null, 0]
    for (const x of s.steps.filter((y) => y.person === p || y.helper === p)) {
      const to = steps.find((y) => y.id === x.stepId)!.locationId
      expect(x.startSeconds).toBeGreaterThanOrEqual(free + travel(at, to))
      if (to !== null) at = to
      free = x.handsFreeSeconds
    }
  }
}

describe('the order of a day', () => {
  it('of a few steps is as short as every order by everybody allows', () =>
    fc.assert(
      fc.property(days(5), fc.integer({ min: 1, max: 3 }), (steps, people) => {
        const s = scheduleOf(steps, people, travel)
        expectPossible(steps, people, s)
        expect(s.totalSeconds).toBe(shortestByTryingAll(steps, people))
      }),
      { numRuns: 60 },
    ))
  it('of a few steps more too', () =>
    fc.assert(
      fc.property(days(7), (steps) => {
        fc.pre(steps.length > 5)
        expect(scheduleOf(steps, 2, travel).totalSeconds).toBe(shortestByTryingAll(steps, 2))
      }),
      { numRuns: 8 },
    ))
  it('of many can be done so, and is never under the bound', () =>
    fc.assert(
      fc.property(days(60), fc.integer({ min: 1, max: 6 }), (steps, people) => {
        const s = scheduleOf(steps, people, travel)
        expectPossible(steps, people, s)
        expect(s.totalSeconds).toBeGreaterThanOrEqual(s.boundSeconds)
      }),
      { numRuns: 60 },
    ))
  // Graham 1969: no list schedule of work that needs nobody twice is longer than 2 - 1/m times the
  // shortest, here with the bound in place of the shortest.
  it('of many at one place without waits is within the bound of list schedules', () =>
    fc.assert(
      fc.property(days(80), fc.integer({ min: 1, max: 6 }), (drawn, people) => {
        const steps = drawn.map((s) => ({
          ...s,
          waitSeconds: 0,
          locationId: null,
          clears: null,
          hands: 1 as const,
        }))
        const { totalSeconds, boundSeconds } = scheduleOf(steps, people)
        expect(totalSeconds).toBeLessThanOrEqual((2 - 1 / people) * boundSeconds + 1e-9)
      }),
      { numRuns: 60 },
    ))
  it('takes two where two are needed, and says for how long one alone would be', () => {
    const mast = [
      step('mast', [], { hands: 2, locationId: 'roof', workSeconds: 600 }),
      step('a', []),
    ]
    const two = scheduleOf(mast, 2, travel)
    expect(two.steps.find((s) => s.stepId === 'mast')).toMatchObject({ person: 0, helper: 1 })
    expect(two).toMatchObject({ totalSeconds: 660, aloneSeconds: 0 })
    expect(scheduleOf(mast, 1, travel)).toMatchObject({ totalSeconds: 660, aloneSeconds: 600 })
  })
  it('lets nobody work beneath a mast, nor anywhere while the power is off', () => {
    const steps = [
      step('mast', [], { clears: 'place', locationId: 'roof' }),
      step('below', [], { locationId: 'roof' }),
      step('inside', [], { locationId: 'hall' }),
      step('power', [], { clears: 'site', locationId: 'cupboard' }),
    ]
    expectPossible(steps, 3, scheduleOf(steps, 3, travel))
  })
})

describe('what a step may take longer', () => {
  /** The same people in the same order, one step with more work. */
  const longer = (steps: readonly Step[], s: Schedule, id: string, by: number): number => {
    const end = new Map<string, number>()
    const hands = new Map<string, number>()
    const free = new Map<number, [number, string | null]>()
    for (const x of s.steps) {
      const own = steps.find((y) => y.id === x.stepId)!
      const crew = x.helper === null ? [x.person] : [x.person, x.helper]
      const from = Math.max(
        ...own.needs.map((n) => end.get(n)!),
        ...crew.map((p) => {
          const [at, place] = free.get(p) ?? [0, null]
          return at + travel(place, own.locationId)
        }),
        ...steps
          .filter(
            (y) =>
              hands.has(y.id) &&
              (own.clears === 'site' ||
                y.clears === 'site' ||
                (own.locationId !== null &&
                  own.locationId === y.locationId &&
                  (own.clears === 'place' || y.clears === 'place'))),
          )
          .map((y) => hands.get(y.id)!),
      )
      const to = from + own.workSeconds + (x.stepId === id ? by : 0)
      hands.set(x.stepId, to)
      end.set(x.stepId, to + own.waitSeconds)
      for (const p of crew) free.set(p, [to, own.locationId ?? free.get(p)?.[1] ?? null])
    }
    return Math.max(...end.values())
  }
  it('is what it may, and no second more', () =>
    fc.assert(
      fc.property(days(12), fc.integer({ min: 1, max: 3 }), fc.nat(11), (steps, people, pick) => {
        const s = scheduleOf(steps, people, travel)
        const { stepId, slackSeconds, critical } = s.steps[pick % s.steps.length]!
        expect(critical).toBe(slackSeconds === 0)
        expect(longer(steps, s, stepId, slackSeconds)).toBe(s.totalSeconds)
        expect(longer(steps, s, stepId, slackSeconds + 1)).toBeGreaterThan(s.totalSeconds)
      }),
      { numRuns: 100 },
    ))
})

describe('in the middle of the day', () => {
  it('goes on from where everybody stands, with the waits that run', () => {
    const steps = [
      step('load', [], { waitSeconds: 600, locationId: 'cupboard' }),
      step('after', ['load'], { locationId: 'cupboard' }),
      step('hang', [], { locationId: 'roof' }),
    ]
    const s = scheduleOf(steps, 1, travel, {
      nowSeconds: 100,
      endedSeconds: new Map([['load', 660]]),
      standing: ['cupboard'],
    })
    expect(s.steps.map((x) => [x.stepId, x.startSeconds])).toEqual([
      ['hang', 340],
      ['after', 660],
    ])
    expect(s.totalSeconds).toBe(720)
  })
})

describe('a step that takes longer', () => {
  it('moves what comes after it and ends the day as much later as its slack does not take up', () =>
    fc.assert(
      fc.property(
        days(12),
        fc.integer({ min: 1, max: 3 }),
        fc.nat(11),
        fc.integer({ min: 1, max: 400 }),
        (steps, people, pick, by) => {
          const s = scheduleOf(steps, people, travel)
          const { stepId, slackSeconds, startSeconds } = s.steps[pick % s.steps.length]!
          const longer = takingLonger(steps, s, stepId, by, travel)
          expect(longer.endSeconds).toBe(Math.max(0, by - slackSeconds))
          for (const m of longer.moved) {
            expect(m.bySeconds).toBeLessThanOrEqual(by)
            expect(s.steps.find((x) => x.stepId === m.stepId)!.startSeconds).toBeGreaterThanOrEqual(
              startSeconds,
            )
          }
        },
      ),
      { numRuns: 100 },
    ))
})

describe('a call', () => {
  it('is made to whoever waits somewhere else, and to nobody who was there', () => {
    const steps = [
      step('aim-a', [], { locationId: 'roof', workSeconds: 600 }),
      step('set', [], { locationId: 'cupboard', workSeconds: 500 }),
      step('link', ['aim-a', 'set'], { locationId: 'cupboard' }),
    ]
    const s = scheduleOf(steps, 2, travel)
    const who = (id: string): number => s.steps.find((x) => x.stepId === id)!.person
    expect(handOversOf(steps, s)).toEqual([
      {
        doneId: 'aim-a',
        nextIds: ['link'],
        from: who('aim-a'),
        to: who('set'),
        atSeconds: 600,
      },
    ])
    expect(handOversOf(steps, scheduleOf(steps, 1, travel))).toEqual([])
  })
})
