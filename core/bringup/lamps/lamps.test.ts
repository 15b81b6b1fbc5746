import { describe, expect, it } from 'vitest'
import { catalogue, type Light } from '../../plan'
import { decode, type Seen } from './decode'
import { plannedSpeed, socketSpeed } from './socketSpeed'

const ap = catalogue['ap-indoor-2x2']!
const seen = (more: Partial<Seen>): Seen => ({
  colour: null,
  rhythm: null,
  forSeconds: null,
  ...more,
})
const states = (s: Seen): Light['state'][] => decode(ap, s).map((d) => d.light.state)

describe('the decoder', () => {
  it('knows every signal of every profile by colour and rhythm alone, and no two of one look alike', () => {
    for (const p of Object.values(catalogue))
      for (const l of p.lights)
        expect(
          decode(p, seen({ colour: l.colour, rhythm: l.rhythm })).map((d) => d.light),
          `${p.name}: ${l.state}`,
        ).toEqual([l])
  })
  it('narrows by what is known, and dark is no rhythm', () => {
    expect(states(seen({ colour: 'teal' }))).toEqual([
      'seeking-address',
      'seeking-controller',
      'awaiting-claim',
      'in-service',
    ])
    expect(states(seen({ rhythm: '..' }))).toEqual(['seeking-controller'])
    expect(states(seen({ colour: 'off' }))).toEqual(['off'])
  })
  it('says what comes next, and nothing after service', () => {
    const next = (s: Light['state']): Light['state'] | null => {
      const l = ap.lights.find((x) => x.state === s)!
      return decode(ap, seen({ colour: l.colour, rhythm: l.rhythm }))[0]!.next?.state ?? null
    }
    expect(next('starting')).toBe('seeking-address')
    expect(next('awaiting-claim')).toBe('loading')
    expect(next('in-service')).toBeNull()
    expect(next('fault')).toBeNull()
  })
  it('worries after the longest usual time, and never of what waits for somebody', () => {
    const worries = (colour: Light['colour'], rhythm: string, forSeconds: number): boolean =>
      decode(ap, { colour, rhythm, forSeconds })[0]!.isWorrying
    const usual = Math.round(ap.waits.bootSeconds * 1.2)
    expect(worries('amber', '-.', usual)).toBe(false)
    expect(worries('amber', '-.', usual + 1)).toBe(true)
    expect(worries('teal', '...', 86_400)).toBe(false)
    expect(worries('amber', '-.-', 0)).toBe(true)
  })
})

describe('the lamp of a socket', () => {
  it.each([
    [1000, 1000, /as planned/, 0],
    [1000, 100, /at 100 Mbit\/s in place of 1 Gbit\/s/, 5],
    [2500, 1000, /at 1 Gbit\/s in place of 2.5 Gbit\/s/, 4],
    [100, 1000, /the plan expects 100 Mbit\/s/, 1],
    [1000, 0, /did not come up/, 4],
  ])('planned %d, seen %d', (planned, came, says, causes) => {
    const s = socketSpeed(planned, came)
    expect(s.says).toMatch(says)
    expect(s.causes).toHaveLength(causes)
  })
  // IEEE 802.3 25 and 40: 100BASE-TX uses two pairs, 1000BASE-T four.
  it('blames a pair only where the planned speed needs more pairs than the one that came up', () => {
    expect(socketSpeed(1000, 100).causes[0]).toMatch(/One pair/)
    expect(socketSpeed(10_000, 1000).causes.join()).not.toMatch(/pair/)
  })
  it('is planned for the slower of two sockets', () => expect(plannedSpeed(1000, 100)).toBe(100))
})
