import { shareUnchanged } from '@mast/core/plan'
import type { SiteModel } from '@mast/core/topology'
import { analyst } from '~/workers/analyst'
import type { Loom } from './loomLayout'

/** A loom, and the model of the plan that it is of: the newest plan is a moment ahead of it. */
interface Drawn {
  readonly loom: Loom
  readonly model: SiteModel
}

/**
 * The loom of the open plan, laid out by the worker that analyses it, and that of the plan with
 * what is held of ours; null until it is there. What an edit leaves alone stays the same object.
 */
export function useLoom(): { drawn: Ref<Drawn | null>; mine: Ref<Loom | null> } {
  const site = useSite()
  const drawn = shallowRef<Drawn | null>(null)
  const mine = shallowRef<Loom | null>(null)
  watchLatest(
    () => (site.stale ? null : site.analysis),
    async (analysis, isLast) => {
      const { model } = site
      if (!analysis || !model) return
      const next = await analyst().loom()
      if (!isLast()) return
      const before = drawn.value?.loom
      drawn.value = { loom: before ? shareUnchanged(before, next) : next, model }
    },
  )
  watchLatest(
    () => site.minePlan,
    async (plan, isLast) => {
      const next = plan ? await analyst().loomOf(toRaw(plan)) : null
      if (isLast()) mine.value = next
    },
  )
  return { drawn, mine }
}
