/** Undo and redo over edits, as plain data: each step keeps both its patches. */
import { applyEdit, type EditCall } from './edits'
import { runEdits } from './several'
import { runPatches, type EditOutcome, type PlanPatch } from './edit'
import type { SitePlan } from './schema'
import { shared, thingsOf, type Thing } from './things'

export interface HistoryStep {
  readonly summary: string
  readonly patches: PlanPatch[]
  readonly inverse: PlanPatch[]
}
export interface History {
  readonly done: readonly HistoryStep[]
  readonly undone: readonly HistoryStep[]
}

export const emptyHistory: History = { done: [], undone: [] }
const MAX_STEPS = 200

export interface HistoryOutcome {
  readonly outcome: EditOutcome
  readonly history: History
}

export const doEdit = (plan: SitePlan, history: History, call: EditCall): HistoryOutcome =>
  kept(history, applyEdit(plan, call))
/** Several edits as one step. */
export const doEdits = (
  plan: SitePlan,
  history: History,
  summary: string,
  calls: readonly EditCall[],
): HistoryOutcome => kept(history, runEdits(plan, summary, calls))

function kept(history: History, outcome: EditOutcome): HistoryOutcome {
  if (!outcome.ok || outcome.patches.length === 0) return { outcome, history }
  const { summary, patches, inverse } = outcome
  return {
    outcome,
    history: {
      done: [...history.done, { summary, patches, inverse }].slice(-MAX_STEPS),
      undone: [],
    },
  }
}

export function undo(plan: SitePlan, history: History): HistoryOutcome | undefined {
  const step = history.done.at(-1)
  if (!step) return undefined
  const outcome = runPatches(plan, step.inverse, `Undo: ${step.summary}`)
  return outcome.ok
    ? { outcome, history: { done: history.done.slice(0, -1), undone: [...history.undone, step] } }
    : { outcome, history }
}

export function redo(plan: SitePlan, history: History): HistoryOutcome | undefined {
  const step = history.undone.at(-1)
  if (!step) return undefined
  const outcome = runPatches(plan, step.patches, `Redo: ${step.summary}`)
  return outcome.ok
    ? { outcome, history: { done: [...history.done, step], undone: history.undone.slice(0, -1) } }
    : { outcome, history }
}

/**
 * The history without the steps that somebody else's work has overtaken: those can no longer be
 * taken back without taking back theirs.
 */
export function withoutOvertaken(history: History, touchedByThem: readonly Thing[]): History {
  const stands = (s: HistoryStep): boolean =>
    shared(thingsOf(s.patches), touchedByThem).length === 0
  return { done: history.done.filter(stands), undone: history.undone.filter(stands) }
}
