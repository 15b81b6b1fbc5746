/**
 * The plain edits that every kind of entity has: add, change, remove. Kinds with edits of their own
 * are left out.
 */
import { z } from 'zod'
import { defineEdit, EditRefused, type EditDefinition } from '../edit'
import { kinds, type PlanKind } from '../kinds'
import { removeEntity } from '../removal'
import { idSchema, type SitePlan } from '../schema'

/** A device brings its sockets, and profiles are taken from a catalogue. */
const withEditsOfTheirOwn = ['devices', 'ports', 'profiles'] as const
type PlainKind = Exclude<PlanKind, { collection: (typeof withEditsOfTheirOwn)[number] }>

type Given<K extends PlanKind> = z.input<K['schema']>
/** What has to be said of a new entity, and what may be. */
type Added<K extends PlanKind> = Omit<Given<K>, keyof K['blank']> &
  Partial<Pick<Given<K>, keyof Given<K> & keyof K['blank']>>
type PlainEdit<K extends PlainKind = PlainKind> = K extends PlainKind
  ? | EditDefinition<`add${K['noun']}`, Added<K>>
    | EditDefinition<`change${K['noun']}`, { id: string; changes: Partial<Omit<Given<K>, 'id'>> }>
    | EditDefinition<`remove${K['noun']}`, { id: string }>
  : never

type Named = { id: string; name?: string }
type Entities = Record<string, Named>

function plainEdits({ collection, noun, word, schema, blank }: PlainKind): PlainEdit[] {
  const nameOf = (plan: SitePlan, id: string): string =>
    (plan[collection] as Entities)[id]?.name ?? id
  const must = (entities: Entities, id: string): void => {
    if (!Object.hasOwn(entities, id))
      throw new EditRefused(`there is no ${word} '${id}'; it may have been removed meanwhile`)
  }
  const shape = schema as z.ZodObject
  const add = defineEdit({
    name: `add${noun}`,
    args: shape.partial(
      Object.fromEntries(Object.keys(blank).map((k) => [k, true])) as never,
    ) as unknown as z.ZodType<Named>,
    apply(draft, args) {
      if (Object.hasOwn(draft[collection], args.id))
        throw new EditRefused(`there is a ${word} '${args.id}' already`)
      Object.assign(draft[collection], { [args.id]: { ...structuredClone(blank), ...args } })
    },
    describe: (_, args) => `Add ${word} ${args.name ?? args.id}`,
  })
  const change = defineEdit({
    name: `change${noun}`,
    args: z.strictObject({
      id: idSchema,
      changes: shape.omit({ id: true }).partial(),
    }) as unknown as z.ZodType<{ id: string; changes: object }>,
    apply(draft, { id, changes }) {
      const entities = draft[collection] as Entities
      must(entities, id)
      Object.assign(entities[id]!, changes)
    },
    describe: (plan, { id, changes }) =>
      `Change ${Object.keys(changes).join(', ')} of ${word} ${nameOf(plan, id)}`,
  })
  const remove = defineEdit({
    name: `remove${noun}`,
    args: z.strictObject({ id: idSchema }),
    apply(draft, { id }) {
      must(draft[collection] as Entities, id)
      removeEntity(draft, collection, id)
    },
    describe: (plan, { id }) => `Remove ${word} ${nameOf(plan, id)}`,
  })
  return [add, change, remove] as unknown as PlainEdit[]
}

const isPlain = (kind: PlanKind): kind is PlainKind =>
  !(withEditsOfTheirOwn as readonly string[]).includes(kind.collection)
export const entityEditList = kinds.filter(isPlain).flatMap(plainEdits)
