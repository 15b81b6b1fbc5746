/**
 * The tasks of a page's main thread while something is done, from the browser's own trace: by the
 * clock, and by the processor, which leaves out what else runs on the machine.
 */
import type { Browser, Page } from '@playwright/test'

export interface Task {
  readonly wallMs: number
  readonly cpuMs: number
}

interface TraceEvent {
  readonly name: string
  readonly ph: string
  readonly pid: number
  readonly tid: number
  readonly dur?: number
  readonly tdur?: number
  readonly args?: { readonly name?: string }
}

/** The longest task of each kind while `work` runs, ms. Zeros when there was none. */
export async function longestTask(
  browser: Browser,
  page: Page,
  work: () => Promise<void>,
): Promise<Task> {
  await browser.startTracing(page, { categories: ['toplevel', '__metadata'] })
  let trace: Buffer | null = null
  try {
    await work()
  } finally {
    trace = await browser.stopTracing()
  }
  return longestOf((JSON.parse(trace.toString()) as { traceEvents: TraceEvent[] }).traceEvents)
}

/**
 * By the clock and by the processor, each its own longest. Workers and the browser's other
 * processes do not count: only threads named as a page's main one.
 */
export function longestOf(events: readonly TraceEvent[]): Task {
  const main = new Set(
    events
      .filter((e) => e.name === 'thread_name' && e.args?.name === 'CrRendererMain')
      .map((e) => `${e.pid} ${e.tid}`),
  )
  const tasks = events.filter(
    (e) =>
      e.ph === 'X' && e.name === 'ThreadControllerImpl::RunTask' && main.has(`${e.pid} ${e.tid}`),
  )
  const longest = (of: (e: TraceEvent) => number | undefined): number =>
    tasks.reduce((n, e) => Math.max(n, of(e) ?? 0), 0) / 1000
  return { wallMs: longest((e) => e.dur), cpuMs: longest((e) => e.tdur) }
}
