import { beforeEach, expect, it, vi } from 'vitest'
import { nextTick, ref, shallowRef, watch } from 'vue'
import { findingsOf, marksOf } from '@mast/core/findings'
import { applyEdits, replayPatches, type PlanPatch, type SitePlan } from '@mast/core/plan'
import { quayside } from '../../tests/sites/quayside'
import { dunlinSlipway } from '../../demo/dunlinSlipway'

/** A worker across the copying of messages, that can be made to fail. */
const worker = { plan: undefined as SitePlan | undefined, wholes: 0, patches: 0, fails: false }
const answer = (plan: SitePlan): object => {
  worker.plan = plan
  const findings = findingsOf(plan)
  return structuredClone({ findings, marks: marksOf(findings) })
}
vi.mock('comlink', () => ({
  wrap: () => ({
    analyse: async (plan: SitePlan) => {
      worker.wholes++
      return answer(structuredClone(plan))
    },
    analyseNext: async (patches: PlanPatch[]) => {
      worker.patches += patches.length
      if (worker.fails) {
        worker.fails = false
        throw new Error('out of memory')
      }
      return answer(replayPatches(worker.plan!, structuredClone(patches)) as SitePlan)
    },
  }),
}))
Object.assign(globalThis, { ref, shallowRef, watch, Worker: Object })

beforeEach(() => {
  vi.resetModules()
  Object.assign(worker, { plan: undefined, wholes: 0, patches: 0, fails: false })
})
async function following(first: SitePlan) {
  const { useAnalysis } = await import('./useAnalysis')
  const plan = shallowRef<SitePlan | null>(first)
  const { analysis, stale } = useAnalysis(plan)
  const settled = async (): Promise<void> => {
    await nextTick()
    await vi.waitUntil(() => !stale.value)
  }
  await settled()
  return { plan, analysis, settled }
}
const hosts = (plan: SitePlan, n: number): SitePlan =>
  applyEdits(plan, [
    { name: 'changeSegment', args: { id: 'cameras', changes: { expectedHosts: n } } },
  ])

it('sends the plan once and then what changed, and finds what the whole would give', async () => {
  const { plan, analysis, settled } = await following(quayside())
  for (const n of [3, 4, 900]) {
    plan.value = hosts(plan.value!, n)
    await settled()
    expect(analysis.value!.findings).toEqual(
      findingsOf(JSON.parse(JSON.stringify(plan.value)) as SitePlan),
    )
  }
  expect(worker).toMatchObject({ wholes: 1, patches: 3 })
})
it('keeps what was found before the same object', async () => {
  const { plan, analysis, settled } = await following(quayside())
  const before = analysis.value!.findings
  plan.value = hosts(plan.value!, 900)
  await settled()
  expect(analysis.value!.findings.filter((f) => before.includes(f)).length).toBeGreaterThan(0)
})
it('follows to another site', async () => {
  const { plan, analysis, settled } = await following(quayside())
  plan.value = null
  await nextTick()
  expect(analysis.value).toBeNull()
  plan.value = dunlinSlipway()
  await settled()
  expect(analysis.value!.findings).toEqual(findingsOf(dunlinSlipway()))
})
it('sends the whole plan where the worker could not take what changed', async () => {
  const { plan, analysis, settled } = await following(quayside())
  worker.fails = true
  plan.value = hosts(quayside(), 900)
  await settled()
  expect(analysis.value!.findings).toEqual(findingsOf(hosts(quayside(), 900)))
  expect(worker.wholes).toBe(2)
})
