import { afterAll, beforeEach, expect, it, vi } from 'vitest'
import { computed, nextTick, ref } from 'vue'

/**
 * A page whose frames and messages come when the test says so, and whose clock goes on by what a
 * turn takes.
 */
const page = {
  frames: [] as (() => void)[],
  messages: [] as (() => void)[],
  now: 0,
  isWithinFrame: false,
}
class Channel {
  port1 = { onmessage: () => {}, close: () => {} }
  port2 = { postMessage: () => page.messages.push(() => this.port1.onmessage()) }
}
const before = {
  requestAnimationFrame: globalThis.requestAnimationFrame,
  MessageChannel: globalThis.MessageChannel,
  performance: globalThis.performance,
}
Object.assign(globalThis, {
  ref,
  computed,
  nextTick,
  requestAnimationFrame: (f: () => void) => page.frames.push(f),
  MessageChannel: Channel,
})
Object.defineProperty(globalThis, 'performance', {
  value: { now: () => page.now },
  configurable: true,
  writable: true,
})
afterAll(() => {
  Object.assign(globalThis, before)
})

/** A frame comes, and all that follows it. */
async function frame(): Promise<void> {
  page.isWithinFrame = true
  for (const f of page.frames.splice(0)) f()
  page.isWithinFrame = false
  for (const message of page.messages.splice(0)) message()
  // What turns wait for are promises already kept: all of them are done before the next task.
  await new Promise((r) => setImmediate(r))
}
const log: string[] = []
const turn = (name: string, ms: number) => (): void => {
  log.push(page.isWithinFrame ? `${name} within the frame` : name)
  page.now += ms
}

beforeEach(() => {
  vi.resetModules()
  log.length = 0
  page.frames.length = 0
  page.messages.length = 0
})

it(
  'gives turns in the order they were asked for, as many between two frames as there is time ' +
    'for, and none within a frame',
  async () => {
    const { takeTurn, morePieces } = await import('./turns')
    for (const [name, ms] of [
      ['a', 1],
      ['b', 1],
      ['c', 9],
      ['d', 9],
      ['e', 1],
    ] as const)
      takeTurn(turn(name, ms))
    expect([log.join(''), morePieces.value]).toEqual(['', true])
    await frame()
    expect(log.join(' ')).toBe('a b c')
    await frame()
    expect([log.join(' '), morePieces.value]).toEqual(['a b c d', true])
    await frame()
    expect([log.join(' '), morePieces.value, page.frames.length]).toEqual(['a b c d e', false, 0])
  },
)
it('gives a turn that a turn asks for, and none that was taken back', async () => {
  const { takeTurn } = await import('./turns')
  takeTurn(() => {
    turn('first', 9)()
    takeTurn(turn('its own', 1))
  })
  const leave = takeTurn(turn('taken back', 1))
  leave()
  await frame()
  await frame()
  expect(log).toEqual(['first', 'its own'])
})
it('keeps the others when one fails, and says so', async () => {
  const { takeTurn, morePieces } = await import('./turns')
  const failures: unknown[] = []
  const listen = (e: unknown): void => {
    failures.push(e)
  }
  const others = process.listeners('unhandledRejection')
  process.removeAllListeners('unhandledRejection')
  process.on('unhandledRejection', listen)
  try {
    takeTurn(() => {
      throw new Error('a piece that cannot be drawn')
    })
    takeTurn(turn('next', 1))
    await frame()
    await frame()
  } finally {
    process.removeListener('unhandledRejection', listen)
    for (const other of others) process.on('unhandledRejection', other)
  }
  expect([log, morePieces.value, failures.map((f) => (f as Error).message)]).toEqual([
    ['next'],
    false,
    ['a piece that cannot be drawn'],
  ])
})
