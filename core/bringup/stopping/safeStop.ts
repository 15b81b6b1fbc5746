/** Leaving for today: what may not be left as it is, and how it is closed. */
import type { Step } from '../step'
import { scheduleOf } from '../scheduling/schedule'
import type { Travel } from '../scheduling/travel'

export interface OpenEnd {
  /** The step that left it open. */
  readonly stepId: string
  readonly says: string
  /** What closes it, in order, with what is needed before. */
  readonly finishIds: readonly string[]
  /** With one person, waits and ways too, s. */
  readonly finishSeconds: number
  /** How it is left safely without them; null where it has to be finished. */
  readonly orElse: string | null
}
export interface SafeStop {
  /** What writes or starts just now, with how long it still may, s. */
  readonly running: readonly { readonly stepId: string; readonly leftSeconds: number }[]
  readonly open: readonly OpenEnd[]
  readonly isSafe: boolean
}

/**
 * @param ready when the wait of each step that was done is over, ms
 */
export function safeStop(
  sheet: readonly Step[],
  ready: ReadonlyMap<string, number>,
  nowMs: number,
  travel: Travel = () => 0,
): SafeStop {
  const byId = new Map(sheet.map((s) => [s.id, s]))
  const isDone = (id: string): boolean => ready.has(id)
  const running = sheet.flatMap((s) => {
    const left = s.whileWaiting ? Math.ceil(((ready.get(s.id) ?? 0) - nowMs) / 1000) : 0
    return left > 0 ? [{ stepId: s.id, leftSeconds: left }] : []
  })
  const finish = (until: readonly string[]): Pick<OpenEnd, 'finishIds' | 'finishSeconds'> => {
    const wanted = new Set<string>()
    const want = (id: string): void => {
      if (isDone(id) || wanted.has(id) || !byId.has(id)) return
      wanted.add(id)
      byId.get(id)!.needs.forEach(want)
    }
    until.forEach(want)
    const steps = sheet
      .filter((s) => wanted.has(s.id))
      .map((s) => ({ ...s, needs: s.needs.filter((n) => wanted.has(n)) }))
    return {
      finishIds: steps.map((s) => s.id),
      finishSeconds: scheduleOf(steps, 1, travel).totalSeconds,
    }
  }
  const left = sheet.flatMap((s): OpenEnd[] => {
    const end = s.leavesOpen
    if (!end || !isDone(s.id) || end.until.every(isDone)) return []
    return [{ stepId: s.id, says: end.says, orElse: end.orElse, ...finish(end.until) }]
  })
  const cut = sheet.filter((s) => s.isOutage)
  const begun = cut.find((s) => isDone(s.id))
  const outage: OpenEnd[] =
    begun && !cut.every((s) => isDone(s.id))
      ? [
          {
            stepId: begun.id,
            says: 'The cut-over is begun: the site is without its line, or hosts without a network.',
            orElse: begun.noReturn?.wayBack ?? null,
            ...finish(cut.map((s) => s.id)),
          },
        ]
      : []
  const open = [...outage, ...sameOnce(left)]
  return { running, open, isSafe: running.length === 0 && open.length === 0 }
}

/** Of several that are closed by the same, the last one tells. */
function sameOnce(ends: readonly OpenEnd[]): OpenEnd[] {
  return ends.filter((e, i) => !ends.slice(i + 1).some((later) => later.says === e.says))
}
