import { wrap, type Remote } from 'comlink'
import type { SitePlan } from '@mast/core/plan'
import type { Analysis, AnalysisWorker } from '~/workers/analysis.worker'

let remote: Remote<AnalysisWorker> | undefined

/** The findings of a plan, kept in step with it. While one analysis runs, only the newest plan waits for the next. */
export function useAnalysis(plan: Ref<SitePlan | null>): { analysis: Ref<Analysis | null>; stale: Ref<boolean> } {
  remote ??= wrap<AnalysisWorker>(new Worker(new URL('../workers/analysis.worker.ts', import.meta.url), { type: 'module' }))
  const analysis = shallowRef<Analysis | null>(null)
  const stale = ref(true)
  let running = false
  async function run(): Promise<void> {
    if (running) return
    running = true
    while (stale.value && plan.value) {
      const asked = plan.value
      const result = await remote!.analyse(asked)
      if (plan.value === asked) { analysis.value = result; stale.value = false }
    }
    running = false
  }
  watch(plan, (now) => {
    stale.value = true
    if (now) void run()
    else analysis.value = null
  }, { immediate: true })
  return { analysis, stale }
}
