/**
 * ./mast start as a person runs it: it comes up, keeps its data, stops everything it started, and
 * says in one sentence what is wrong.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { readdirSync, readFileSync, mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { freePort } from '../../scripts/start/ports.mjs'

/** Processes whose environment or command line names this run. */
function processesOf(mark: string): string[] {
  return readdirSync('/proc')
    .filter((pid) => /^\d+$/.test(pid) && Number(pid) !== process.pid)
    .flatMap((pid) => {
      try {
        const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ')
        return `${command} ${readFileSync(`/proc/${pid}/environ`, 'utf8')}`.includes(mark)
          ? [`${pid} ${command}`]
          : []
      } catch {
        return []
      }
    })
}

function start(
  state: string,
  port: number,
): { child: ChildProcess; up: Promise<void>; ended: Promise<number | null> } {
  const child = spawn('./mast', ['start', '--port', String(port)], {
    env: { ...process.env, MAST_STATE: state },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  const ended = new Promise<number | null>((resolve) => child.on('close', resolve))
  const up = new Promise<void>((resolve, reject) => {
    let said = ''
    child.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString()
      if (said.includes('Ctrl-C stops it.')) resolve()
    })
    child.stderr.on('data', (chunk: Buffer) => {
      said += chunk.toString()
    })
    void ended.then(() => reject(new Error(said)))
  })
  return { child, up, ended }
}

for (const signal of ['SIGTERM', 'SIGINT'] as const)
  test(`comes up, and ${signal} leaves no process; the data is there the next time`, async () => {
    const state = mkdtempSync(join(tmpdir(), 'able-mast-start-'))
    const port = await freePort()
    const origin = `http://127.0.0.1:${port}`
    const first = start(state, port)
    await first.up
    const made = await fetch(`${origin}/api/setup`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'keeper', password: 'lamp-lens-log-book' }),
    })
    expect(made.status).toBe(200)
    expect(processesOf(state).length).toBeGreaterThan(2)
    first.child.kill(signal)
    expect(await first.ended).toBe(0)
    expect(processesOf(state)).toEqual([])

    const second = start(state, port)
    await second.up
    expect(await (await fetch(`${origin}/api/session`)).json()).toEqual({
      account: null,
      needsSetup: false,
    })
    const rival = spawnSync('./mast', ['start', '--port', String(await freePort())], {
      env: { ...process.env, MAST_STATE: state },
      encoding: 'utf8',
    })
    expect(rival.status).toBe(1)
    expect(rival.stderr).toMatch(
      /^Able Mast runs from this folder already \(process \d+\); stop that one first\.\n$/,
    )
    second.child.kill(signal)
    expect(await second.ended).toBe(0)
    rmSync(state, { recursive: true, force: true })
  })

test('a port in use, a wrong port, an unknown option: one sentence each, and not zero', async () => {
  const state = mkdtempSync(join(tmpdir(), 'able-mast-start-'))
  const server = createServer()
  const port = await new Promise<number>((resolve) =>
    server.listen(0, '127.0.0.1', () => resolve((server.address() as { port: number }).port)),
  )
  const say = (...args: string[]) => {
    const { status, stderr } = spawnSync('./mast', args, {
      env: { ...process.env, MAST_STATE: state },
      encoding: 'utf8',
    })
    return { status, stderr }
  }
  expect(say('start', '--port', String(port))).toEqual({
    status: 1,
    stderr: `Port ${port} is in use; choose another one with --port.\n`,
  })
  server.close()
  expect(say('start', '--port', '0')).toEqual({
    status: 1,
    stderr: "--port takes a number from 1 to 65535, not '0'.\n",
  })
  expect(say('start', '--fresh')).toEqual({
    status: 1,
    stderr: '--fresh is for the demo only; it would throw your data away.\n',
  })
  expect(say('demo', '--colour').status).toBe(1)
  expect(say('dance').stderr).toMatch(/^there is no command 'dance'/)
  rmSync(state, { recursive: true, force: true })
})
