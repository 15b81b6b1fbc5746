import { patchesBetween, shareUnchanged, type SitePlan } from '@mast/core/plan'
import { analyst } from '../workers/analyst'
import type { Analysis } from '../workers/analysis.worker'

/** The plan that the worker has, where that is known. */
let sent: SitePlan | undefined

/**
 * The findings of a plan, kept in step with it. While one analysis runs, only the newest plan waits
 * for the next; what is sent is what changed.
 */
export function useAnalysis(plan: Ref<SitePlan | null>): {
  analysis: Ref<Analysis | null>
  stale: Ref<boolean>
} {
  const analysis = shallowRef<Analysis | null>(null)
  const stale = ref(true)
  let running = false
  async function analyse(asked: SitePlan): Promise<Analysis> {
    const patches = sent && patchesBetween(sent, asked)
    // Until it has answered nobody knows what it has.
    sent = undefined
    const whole = (): Promise<Analysis> => analyst().analyse(asked)
    const result = await (patches ? analyst().analyseNext(patches).catch(whole) : whole())
    sent = asked
    return result
  }
  async function run(): Promise<void> {
    if (running) return
    running = true
    try {
      while (stale.value && plan.value) {
        // In a task of its own: the sheet comes first.
        await new Promise((resolve) => setTimeout(resolve))
        const asked = plan.value as SitePlan | null
        if (!asked) break
        const result = await analyse(asked)
        if (plan.value === asked) {
          analysis.value = shareUnchanged(analysis.value, result)
          stale.value = false
        }
      }
    } finally {
      running = false
    }
  }
  watch(
    plan,
    (now) => {
      stale.value = true
      if (now) void run()
      else analysis.value = null
    },
    { immediate: true },
  )
  return { analysis, stale }
}
