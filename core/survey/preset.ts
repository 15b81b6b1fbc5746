/** A new site made from another one: everything but what belongs to that place alone. */
import { collections, createPlan, kindOf, removeEntity, type SitePlan } from '../plan'

/** What of an entity belongs to its place alone is said by its kind. */
export function presetFrom(
  plan: SitePlan,
  name: string,
  addressSpace: readonly string[],
): SitePlan {
  const copy = structuredClone(plan)
  const { addressSpace: space } = createPlan(name, addressSpace).site
  // What stays behind takes along what speaks of it.
  for (const c of collections) {
    const { inAnotherSite } = kindOf(c)
    for (const [id, entity] of Object.entries(copy[c] as Record<string, object>))
      if (inAnotherSite?.(entity as never) === null) removeEntity(copy, c, id)
  }
  const maps = collections.map((c) => {
    const { inAnotherSite } = kindOf(c)
    const kept = Object.entries(copy[c] as Record<string, object>).map(
      ([id, entity]) => [id, inAnotherSite ? inAnotherSite(entity as never) : entity] as const,
    )
    return [c, Object.fromEntries(kept)]
  })
  return {
    ...copy,
    ...Object.fromEntries(maps),
    site: { ...copy.site, name, addressSpace: space, addressSpace6: [] },
  }
}
