import { spawn, type ChildProcess } from 'node:child_process'
import { afterEach, expect, it } from 'vitest'
import { keepRunning } from './kept.mjs'

const started: ChildProcess[] = []
afterEach(() => { for (const c of started.splice(0)) c.kill('SIGKILL') })
const script = (code: string): (() => ChildProcess) => () => { const c = spawn(process.execPath, ['-e', code], { stdio: 'ignore' }); started.push(c); return c }
const FOREVER = 'setInterval(() => {}, 1000)'
async function until(check: () => boolean): Promise<void> { while (!check()) await new Promise((r) => setTimeout(r, 10)) }

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
  const kept = keepRunning('a part', script('process.exit(3)'), { signal: 'SIGTERM', hasStarted: () => false })
  expect(await kept.ended).toBe(3)
  expect(started).toHaveLength(1)
})
it('what does not listen is ended all the same', async () => {
  const kept = keepRunning('a part', script(`process.on('SIGTERM', () => {}); ${FOREVER}`), { signal: 'SIGKILL' })
  await kept.stop()
  expect(() => process.kill(kept.pid, 0)).toThrow()
})
