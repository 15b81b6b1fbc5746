import { spawn, type ChildProcess } from 'node:child_process'
import { afterEach, expect, it } from 'vitest'
import { keepRunning } from './kept.mjs'

const started: ChildProcess[] = []
afterEach(() => {
  for (const c of started.splice(0)) c.kill('SIGKILL')
})
const script =
  (code: string): (() => ChildProcess) =>
  () => {
    const c = spawn(process.execPath, ['-e', code], { stdio: 'ignore' })
    started.push(c)
    return c
  }
const FOREVER = 'setInterval(() => {}, 1000)'
async function until(check: () => boolean): Promise<void> {
  while (!check()) await new Promise((r) => setTimeout(r, 10))
}

it('starts again what is killed, and ends it when it is told to', async () => {
  const kept = keepRunning('a part', script(FOREVER), { signal: 'SIGTERM' })
  const first = kept.pid
  process.kill(first, 'SIGKILL')
  await until(() => kept.pid !== first)
  await kept.stop()
  expect(() => process.kill(kept.pid, 0)).toThrow()
  expect(started).toHaveLength(2)
})
it('what never worked is not tried again', async () => {
  const kept = keepRunning('a part', script('process.exit(3)'), {
    signal: 'SIGTERM',
    hasStarted: () => false,
  })
  expect(await kept.ended).toBe(3)
  expect(started).toHaveLength(1)
})
it('what lives and no longer answers is started again; what answers in between is not', async () => {
  let answers = true
  const kept = keepRunning('a part', script(FOREVER), {
    signal: 'SIGTERM',
    isWell: () => (answers ? Promise.resolve(true) : Promise.reject(new Error('no answer'))),
    patienceMs: 60,
    askEveryMs: 10,
  })
  const first = kept.pid
  answers = false
  await until(() => kept.pid !== first)
  answers = true
  const second = kept.pid
  let asked = 0
  while (asked++ < 20) await new Promise((r) => setTimeout(r, 10))
  expect(kept.pid).toBe(second)
  await kept.stop()
  expect(started).toHaveLength(2)
})
it('what is only starting is not asked yet', async () => {
  let asked = 0
  const kept = keepRunning('a part', script(FOREVER), {
    signal: 'SIGTERM',
    hasStarted: () => false,
    isWell: () => {
      asked++
      return Promise.resolve(asked > 5)
    },
    patienceMs: 100_000,
    askEveryMs: 5,
  })
  await until(() => asked > 5)
  expect(started).toHaveLength(1)
  await kept.stop()
})
it('what does not listen is ended all the same', async () => {
  const kept = keepRunning('a part', script(`process.on('SIGTERM', () => {}); ${FOREVER}`), {
    signal: 'SIGKILL',
  })
  await kept.stop()
  expect(() => process.kill(kept.pid, 0)).toThrow()
})
