import { describe, expect, it } from 'vitest'
import { longestOf } from './tasks'

const named = (pid: number, tid: number, name: string) => ({
  name: 'thread_name',
  ph: 'M',
  pid,
  tid,
  args: { name },
})
const ran = (
  pid: number,
  tid: number,
  dur: number,
  tdur: number,
  name = 'ThreadControllerImpl::RunTask',
) => ({ name, ph: 'X', pid, tid, dur, tdur })

describe('the longest task of a trace', () => {
  it('is that of the main thread of a page, by the clock and by the processor each its own', () => {
    expect(
      longestOf([
        ran(7, 1, 30_000, 12_000),
        ran(7, 1, 20_000, 19_000),
        ran(7, 2, 90_000, 90_000),
        ran(8, 1, 80_000, 80_000),
        ran(7, 1, 70_000, 70_000, 'inside'),
        named(7, 1, 'CrRendererMain'),
        named(7, 2, 'DedicatedWorker thread'),
        named(8, 1, 'CrBrowserMain'),
      ]),
    ).toEqual({ wallMs: 30, cpuMs: 19 })
  })
  it('is nothing where nothing ran', () =>
    expect(longestOf([named(7, 1, 'CrRendererMain')])).toEqual({ wallMs: 0, cpuMs: 0 }))
})
