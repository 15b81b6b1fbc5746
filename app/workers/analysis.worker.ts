/** Runs the analysis away from the screen. */
import { expose } from 'comlink'
import { findingsOf, marksOf, type Finding } from '@mast/core/findings'
import type { PlanSheetId, SheetCount } from '@mast/core/sheets'
import { replayPatches, type PlanPatch, type SitePlan } from '@mast/core/plan'

export interface Analysis {
  readonly findings: Finding[]
  readonly marks: Record<PlanSheetId, SheetCount>
}

let plan: SitePlan | undefined

const worker = {
  analyse(whole: SitePlan): Analysis {
    plan = whole
    const findings = findingsOf(plan)
    return { findings, marks: marksOf(findings) }
  },
  /** The same of the plan that the patches make of the last one. */
  analyseNext(patches: readonly PlanPatch[]): Analysis {
    return worker.analyse(replayPatches(plan!, patches) as SitePlan)
  },
}
export type AnalysisWorker = typeof worker
expose(worker)
