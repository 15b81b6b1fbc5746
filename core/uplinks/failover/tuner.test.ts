import { describe, expect, it } from 'vitest'
import { outlookOf } from './outlook'
import type { WatchedLine } from './watchedLine'
import { probeGbAMonth } from './probes'
import { tune } from './tuner'

const line = (id: string): WatchedLine => ({
  id,
  order: id === 'a' ? 0 : 1,
  weight: 1,
  failing: { id, timesAYear: 2, hours: 4 },
  parts: [],
  watch: {
    intervalSeconds: 5,
    answerSeconds: 2,
    failures: 12,
    successes: 4,
    linkLoss: 'at-once',
  },
  targets: 1,
  need: 'any',
  loss: { usual: 0.02, bursts: null },
  keepsSignal: true,
  startSeconds: 0,
  coldSeconds: 0,
})
const lines = [line('a'), line('b')]

describe('the tuner', () => {
  const { best, curve } = tune(lines, { kind: 'at-once' }, 1, {
    seconds: 30,
    falseSwitchesAYear: 0.5,
  })

  it('keeps both bounds, and says of its setting what the outlook says', () => {
    expect(best!.worstSeconds).toBeLessThanOrEqual(30)
    expect(best!.falseSwitchesAYear).toBeLessThanOrEqual(0.5)
    const { intervalSeconds, failures } = best!
    const watch = {
      ...lines[0]!.watch!,
      intervalSeconds,
      failures,
      answerSeconds: Math.min(2, intervalSeconds),
    }
    const ahead = outlookOf([{ ...lines[0]!, watch }, lines[1]!], { kind: 'at-once' }, 1)
    expect(ahead.over!.worst).toBe(best!.worstSeconds)
    expect(ahead.totalMinutes).toBe(best!.totalMinutes)
  })

  it('draws a curve on which waiting longer is always answered by fewer false alarms', () => {
    expect(curve.length).toBeGreaterThan(10)
    for (const [i, t] of curve.entries()) {
      const before = curve[i - 1]
      if (!before) continue
      expect(t.worstSeconds).toBeGreaterThanOrEqual(before.worstSeconds)
      expect(t.falseSwitchesAYear).toBeLessThan(before.falseSwitchesAYear)
    }
  })

  it('has nothing where the bounds meet nowhere, or where nothing is tested', () => {
    const none = { seconds: 2, falseSwitchesAYear: 0.000001 }
    expect(tune(lines, { kind: 'at-once' }, 1, none).best).toBeNull()
    const blind = [{ ...line('a'), watch: null }, line('b')]
    expect(tune(blind, { kind: 'at-once' }, 1, none)).toEqual({ best: null, curve: [] })
  })
})

it('a ping every 5 s is 88 MB a month, there and back', () => {
  const tests = [{ kind: 'ping' as const, target: '192.0.2.1', port: null }]
  const watch = { ...lines[0]!.watch!, need: 'any' as const, tests }
  // 84 octets each way (RFC 791, RFC 792), 17,280 rounds a day, 30.4 days.
  expect(probeGbAMonth(watch)).toBeCloseTo((168 * 17_280 * 30.4375) / 1e9, 6)
})
