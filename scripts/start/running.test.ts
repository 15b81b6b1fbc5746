import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, expect, it } from 'vitest'
import { beganAt } from './identity.mjs'
import { processOf } from './running.mjs'

const started: ChildProcess[] = []
afterEach(() => {
  for (const c of started.splice(0)) c.kill('SIGKILL')
})
const other = (): number => {
  const c = spawn(process.execPath, ['-e', 'setInterval(() => {}, 1000)'], { stdio: 'ignore' })
  started.push(c)
  return c.pid!
}
const file = (text: string): string => {
  const path = join(mkdtempSync(join(tmpdir(), 'able-mast-running-')), 'running')
  writeFileSync(path, text)
  return path
}

it('a process that lives and began when the file says has the folder', () => {
  const pid = other()
  expect(processOf(file(`${pid} ${beganAt(pid)}`))).toBe(pid)
})
it('a number that another process has by now has not', () => {
  const pid = other()
  expect(processOf(file(`${pid} some-other-boot 12345`))).toBe(0)
})
it('its own number, as in a container that was started anew, has not', () =>
  expect([
    processOf(file(String(process.pid))),
    processOf(file(`${process.pid} ${beganAt(process.pid)}`)),
  ]).toEqual([0, 0]))
it('a file of an earlier version names no moment: there the number has to do', () => {
  const pid = other()
  expect(processOf(file(String(pid)))).toBe(pid)
})
it.each(['', 'nonsense', '0', '-1', '99999999'])('"%s" is nobody', (text) =>
  expect(processOf(file(text))).toBe(0),
)
it('no file is nobody', () => expect(processOf('/nowhere/running')).toBe(0))
