/** Runs the analysis, and lays large drawings out, away from the screen. */
import { expose } from 'comlink'
import { findingsOf, marksOf, offersOf, type Finding, type Offer } from '@mast/core/findings'
import type { PlanSheetId, SheetCount } from '@mast/core/sheets'
import { outdatedOn, runSheetOf, schoolCosts, type SchoolCosts } from '@mast/core/bringup'
import { fieldFindingsOf, type FieldFacts, type FieldFinding } from '@mast/core/field'
import { siteModel } from '@mast/core/topology'
import { layLoom, type Loom } from '../components/wiring/loomLayout'
import { replayPatches, type PlanPatch, type SitePlan } from '@mast/core/plan'

export interface Analysis {
  readonly findings: Finding[]
  readonly marks: Record<PlanSheetId, SheetCount>
  /** Of the run sheet, in order. */
  readonly stepIds: readonly string[]
}

export interface FieldAnalysis {
  readonly findings: FieldFinding[]
  /** Steps that were done and say something else by now. */
  readonly outdated: readonly string[]
}

let plan: SitePlan | undefined

const worker = {
  analyse(whole: SitePlan): Analysis {
    plan = whole
    const findings = findingsOf(plan)
    return {
      findings,
      marks: marksOf(findings),
      stepIds: runSheetOf(siteModel(plan)).map((s) => s.id),
    }
  },
  /** The same of the plan that the patches make of the last one. */
  analyseNext(patches: readonly PlanPatch[]): Analysis {
    return worker.analyse(replayPatches(plan!, patches) as SitePlan)
  },
  /** What the fixes of a finding do to the plan that was last analysed. */
  offers: (finding: Pick<Finding, 'id' | 'fixes'>): Offer[] => offersOf(plan!, finding),
  /** What is to be said of what happens in the field, by the plan that was last analysed. */
  field(facts: FieldFacts): FieldAnalysis {
    const model = siteModel(plan!)
    const sheet = new Map(runSheetOf(model).map((s) => [s.id, s]))
    const inService = facts.devices.filter((d) => d.state === 'in-service').map((d) => d.deviceId)
    return {
      findings: fieldFindingsOf(model, facts),
      outdated: outdatedOn(sheet, facts.steps, new Set(inService)),
    }
  },
  /** What each school would cost the day, of the plan that was last analysed. */
  schoolCosts: (deviceIds: readonly string[], people: number): SchoolCosts =>
    schoolCosts(plan!, deviceIds, people),
  /** The drawing of the plan that was last analysed, and of another one that stands beside it. */
  loom: (): Loom => layLoom(siteModel(plan!)),
  loomOf: (other: SitePlan): Loom => layLoom(siteModel(other)),
}
export type AnalysisWorker = typeof worker
expose(worker)
