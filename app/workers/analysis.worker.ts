/** Runs the analysis away from the screen. */
import { expose } from 'comlink'
import { findingsOf, marksOf, type Finding, type Sheet, type SheetMark } from '@mast/core/findings'
import type { SitePlan } from '@mast/core/plan'

export interface Analysis { readonly findings: Finding[]; readonly marks: Record<Sheet, SheetMark> }

const worker = {
  analyse(plan: SitePlan): Analysis {
    const findings = findingsOf(plan)
    return { findings, marks: marksOf(findings) }
  },
}
export type AnalysisWorker = typeof worker
expose(worker)
