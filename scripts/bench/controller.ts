/**
 * Reports that the controller takes in a second, beside a bare route that inserts one row, from the
 * same callers on the same database.
 */
import { spawn } from 'node:child_process'
import { createPlan } from '@mast/core/plan'
import { Caller } from '../../tests/caller'
import {
  LightDevice,
  Line,
  NAME,
  PASSWORD,
  planWith,
  serialOf,
  throwaway,
} from '../../tests/load/system'
import { freePort } from '../start/ports.mjs'
import { row, type Row } from './measure'

const DEVICES = 64
const SECONDS = 5

export async function controller(): Promise<Row[]> {
  const { system, close } = await throwaway()
  const port = await freePort()
  const bare = spawn(process.execPath, ['--import', 'tsx', 'scripts/bench/bareRoute.ts'], {
    env: { ...process.env, DATABASE_URL: system.url, PORT: String(port) },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  })
  try {
    await new Promise((resolve) => bare.once('message', resolve))
    const owner = await Caller.first(system.origin, NAME, PASSWORD)
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', {
      name: 'Fleet',
      plan: planWith(0, DEVICES, createPlan('Fleet')),
    })
    const line = new Line(system.origin, DEVICES)
    const devices = Array.from({ length: DEVICES }, (_, n) => new LightDevice(line, n))
    for (const d of devices) {
      await d.hello()
      await owner.read('POST', `/api/sites/${id}/devices/unit-${d.n}/claim`, {
        serial: serialOf(d.n),
      })
      await d.fetchToken()
    }
    const rate = async (once: (d: LightDevice) => Promise<boolean>): Promise<number> => {
      let done = 0
      const end = Date.now() + SECONDS * 1000
      await Promise.all(
        devices.map(async (d) => {
          while (Date.now() < end) {
            if (!(await once(d))) throw new Error('a request failed')
            done++
          }
        }),
      )
      return done / SECONDS
    }
    const other = new Line(`http://127.0.0.1:${port}`, DEVICES)
    const insert = async (d: LightDevice): Promise<boolean> =>
      (await other.send('POST', '/', d.body(1))).status === 200
    const report = async (d: LightDevice): Promise<boolean> => (await d.report()) === 200
    // In turns, so that both see the same machine.
    await rate(report)
    const [b1, a1, b2, a2] = [
      await rate(insert),
      await rate(report),
      await rate(insert),
      await rate(report),
    ]
    line.close()
    other.close()
    return [
      row({
        name: 'controller reports',
        value: (a1 + a2) / 2,
        unit: '/s',
        reference: 'a bare route that inserts one row, /s',
        referenceValue: (b1 + b2) / 2,
        aim: 'at least half',
        met: (r) => r >= 0.5,
      }),
    ]
  } finally {
    bare.kill()
    await close()
  }
}
