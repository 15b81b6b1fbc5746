/** Removing an entity, with everything that would dangle: what happens where is said by the kinds. */
import type { Draft } from 'immer'
import { EditRefused } from './edit'
import { kinds, singles, type Collection } from './kinds'
import type { Reference } from './kinds/kind'
import { idsAt } from './references'
import type { SitePlan } from './schema'

type Entity = Record<string, unknown>

/** What goes together, a collection each. */
type Gone = Map<string, Set<string>>

/** Lets go of what a reference leads to. Whether the entity itself has to go too. */
function letGo(
  entity: Entity,
  { at, whenGone }: Reference<never>,
  isGone: (id: string) => boolean,
) {
  if (typeof whenGone === 'function') whenGone(entity as never)
  else if (typeof whenGone === 'object') throw new EditRefused(whenGone.refuse(entity as never))
  else if (whenGone !== 'remove') {
    const path = at.split('.').filter((key) => key !== '*')
    const last = path.pop()!
    const holder = path.reduce((e, key) => e[key] as Entity, entity)
    holder[last] =
      whenGone === 'clear' ? null : (holder[last] as string[]).filter((id) => !isGone(id))
  }
  return whenGone === 'remove'
}

/** @throws EditRefused where something that stays cannot be without it. */
export function removeEntity(draft: Draft<SitePlan>, collection: Collection, id: string): void {
  const all: Gone = new Map([[collection, new Set([id])]])
  for (let wave = all; wave.size > 0;) {
    const next: Gone = new Map()
    /** Whether an entity that refers to what goes in this wave goes too. */
    const follows = (entity: Entity, references: readonly Reference<never>[]): boolean => {
      let goes = false
      for (const reference of references) {
        const isGone = (other: string): boolean => reference.to.some((c) => wave.get(c)?.has(other))
        for (const { id: other } of idsAt(entity, reference))
          if (isGone(other)) {
            goes = letGo(entity, reference, isGone) || goes
            break
          }
      }
      return goes
    }
    const leadingTo = (references: readonly Reference<never>[]): readonly Reference<never>[] =>
      references.filter((r) => r.to.some((c) => wave.has(c)))
    for (const single of singles) follows(draft[single.top], leadingTo(single.references))
    for (const kind of kinds) {
      const references = leadingTo(kind.references)
      if (references.length === 0) continue
      for (const entity of Object.values(draft[kind.collection]) as (Entity & { id: string })[])
        if (!all.get(kind.collection)?.has(entity.id) && follows(entity, references))
          next.set(kind.collection, (next.get(kind.collection) ?? new Set()).add(entity.id))
    }
    for (const [c, ids] of next) all.set(c, new Set([...(all.get(c) ?? []), ...ids]))
    wave = next
  }
  for (const [c, ids] of all) for (const each of ids) delete draft[c as Collection][each]
}
