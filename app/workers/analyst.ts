import { wrap, type Remote } from 'comlink'
import type { AnalysisWorker } from './analysis.worker'

let remote: Remote<AnalysisWorker> | undefined

/** The worker that has the open plan and computes what takes its time; begun when first asked. */
export const analyst = (): Remote<AnalysisWorker> =>
  (remote ??= wrap<AnalysisWorker>(
    new Worker(new URL('./analysis.worker.ts', import.meta.url), { type: 'module' }),
  ))
