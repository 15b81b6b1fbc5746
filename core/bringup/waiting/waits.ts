/** Waits of the day: they run by themselves, side by side, wherever the sheet is open or not. */
import type { Step } from '../step'

export interface Wait {
  readonly stepId: string
  readonly title: string
  readonly deviceId: string | null
  readonly wholeSeconds: number
  /** 0 once it is over. */
  readonly leftSeconds: number
  /** How long it has been over, s. */
  readonly overSeconds: number
  /** What must not be done meanwhile. */
  readonly whileWaiting: string | null
  /** What it lets begin. */
  readonly next: string | null
  /** What to look at next; null while nothing is late. */
  readonly check: string | null
}

export interface Waited {
  readonly stepId: string
  readonly doneMs: number
  readonly readyMs: number
}

/** After its end, half as long again and at least a minute, before it is late (common practice). */
const LATE_LEAST_S = 60
const lateAfter = (wholeSeconds: number): number => Math.max(LATE_LEAST_S, wholeSeconds / 2)

/**
 * Those that run, the next to end first, then those that are over and whose next step is still open.
 * Waits of no length are none, and no wait is longer than it was made, whatever a clock says.
 */
export function waitsOf(sheet: readonly Step[], done: readonly Waited[], nowMs: number): Wait[] {
  const byId = new Map(sheet.map((s) => [s.id, s]))
  const isDone = new Set(done.map((d) => d.stepId))
  /** Steps that are still open and need it. */
  const openAfter = new Map<string, Step[]>()
  for (const s of sheet)
    if (!isDone.has(s.id))
      for (const n of s.needs) {
        const list = openAfter.get(n)
        if (list) list.push(s)
        else openAfter.set(n, [s])
      }
  const waits = done.flatMap((d): Wait[] => {
    const step = byId.get(d.stepId)
    const wholeSeconds = (d.readyMs - d.doneMs) / 1000
    if (!step || !(wholeSeconds > 0)) return []
    const left = Math.min(wholeSeconds, (d.readyMs - nowMs) / 1000)
    const after = openAfter.get(step.id) ?? []
    const next = after[0]
    if (left <= 0 && !next) return []
    const overSeconds = Math.max(0, -left)
    // What waits for something else as well is not late by this.
    const awaited = after.find(
      (s) => s.follows?.kind === 'device' && s.needs.every((n) => isDone.has(n)),
    )
    const isLate = awaited !== undefined && overSeconds > lateAfter(wholeSeconds)
    return [
      {
        stepId: step.id,
        title: step.title,
        deviceId: step.deviceId,
        wholeSeconds,
        leftSeconds: Math.max(0, Math.ceil(left)),
        overSeconds: Math.floor(overSeconds),
        whileWaiting: step.whileWaiting,
        next: next?.title ?? null,
        check: isLate ? (step.ifExceeded ?? awaited.ifExceeded) : null,
      },
    ]
  })
  return waits.sort(
    (a, b) =>
      Number(a.leftSeconds === 0) - Number(b.leftSeconds === 0) ||
      a.leftSeconds - b.leftSeconds ||
      b.overSeconds - a.overSeconds,
  )
}
