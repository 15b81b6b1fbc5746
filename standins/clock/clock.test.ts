import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Clock, HURRY_SPEED } from './clock'
import { EventQueue } from './eventQueue'

describe('the clock', () => {
  let ms = 0
  beforeEach(() => {
    ms = 0
    vi.useFakeTimers()
  })
  afterEach(() => {
    vi.useRealTimers()
  })
  const pass = async (span: number): Promise<void> => {
    for (let i = 0; i < span / 20; i++) {
      ms += 20
      await vi.advanceTimersByTimeAsync(20)
    }
  }

  it('runs as many times faster as it is told, from 1 to 1000', async () => {
    const queue = new EventQueue()
    const clock = new Clock(queue, 1, () => ms)
    clock.start()
    await pass(1000)
    expect(queue.now).toBeCloseTo(1, 5)
    clock.setSpeed(60)
    await pass(1000)
    expect(queue.now).toBeCloseTo(61, 5)
    clock.setSpeed(1_000_000)
    expect(clock.speed).toBe(1000)
    clock.setSpeed(0)
    expect(clock.speed).toBe(1)
    clock.stop()
    await pass(1000)
    expect(queue.now).toBeCloseTo(61, 5)
  })
  it('hurries while somebody waits, and goes on as it was told afterwards', async () => {
    const queue = new EventQueue()
    const clock = new Clock(queue, 1, () => ms)
    clock.start()
    let done: (() => void) | undefined
    const waited = clock.hurry(
      () =>
        new Promise<void>((resolve) => {
          done = resolve
        }),
    )
    await pass(1000)
    expect(queue.now).toBeCloseTo(HURRY_SPEED, 5)
    expect(clock.speed).toBe(1)
    done!()
    await waited
    await pass(1000)
    expect(queue.now).toBeCloseTo(HURRY_SPEED + 1, 5)
    clock.stop()
  })
  it('stands still while something real is under way, and does not catch up on it', async () => {
    const queue = new EventQueue()
    const clock = new Clock(queue, 100, () => ms)
    clock.start()
    await pass(100)
    let finish: (() => void) | undefined
    const held = clock.hold(
      () =>
        new Promise<void>((resolve) => {
          finish = resolve
        }),
    )
    const at = queue.now
    await pass(5000)
    expect(queue.now).toBe(at)
    finish!()
    await held
    await pass(100)
    expect(queue.now).toBeCloseTo(at + 10, 5)
    clock.stop()
  })
})
