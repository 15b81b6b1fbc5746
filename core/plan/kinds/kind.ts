/**
 * What is said of a kind of entity in one place; the plan's schema, its reference check, what is
 * removed along, merging, words, limits, plain edits and the docs are derived from it.
 */
import { z } from 'zod'

/** Says that something is wrong at a path within the entity. */
export type Say = (path: (string | number)[], reason: string) => void

/** An id of another entity that stands in this one. */
export interface Reference<E> {
  /** Field within the entity, with dots; `.*` at the end for each of a list. */
  readonly at: string
  /** Collections that the id may be in. */
  readonly to: readonly string[]
  /** Values that are no id. */
  readonly unless?: (value: string) => boolean
  /**
   * What happens here when what it refers to is removed: the field becomes null, the id leaves its
   * list, the whole entity goes too, something of its own, or nothing: the removal is refused.
   */
  readonly whenGone:
    'clear' | 'drop' | 'remove' | ((entity: E) => void) | { readonly refuse: (entity: E) => string }
  /** It is in a socket, which takes one plug; or, of its own kind, several are let through. */
  readonly isPlug?: 'alone' | 'beside its kind'
}

/** What a part of the plan has, whether one entity or many. */
interface Described<E> {
  readonly references?: readonly Reference<E>[]
  /** Fields whose own fields are changed apart from each other. */
  readonly apart?: readonly string[]
  /** Words for fields where their names would not do. */
  readonly fieldWords?: Readonly<Record<string, string>>
}

interface KindGiven<
  C extends string,
  N extends string,
  S extends z.ZodObject,
  B extends keyof z.infer<S>,
  P,
> extends Described<z.infer<S>> {
  /** Key of the map in the plan. */
  readonly collection: C
  /** As in the names of its edits: `addLink`. */
  readonly noun: N
  /** As people say it. */
  readonly word: string
  readonly plural: string
  readonly schema: S
  /** How many a plan may grow to. */
  readonly most: number
  /** What a new one has where nothing else is said. */
  readonly blank?: Pick<z.infer<S>, B>
  /** Fields that make sense only together, each with the name of what they make up. */
  readonly together?: Readonly<Record<string, string>>
  /** Half of it from one person and half from another says what nobody meant. */
  readonly isOneStatement?: boolean
  /** Fields that decide what other entities have to look like. */
  readonly deciding?: readonly string[]
  /** Its name where it has no field of that; `named` gives that of any id. */
  nameOf?(entity: z.infer<S>, plan: P, named: (id: string) => string): string
  /** What a schema cannot say of it, given the rest of the plan. */
  check?(entity: z.infer<S>, plan: P, say: Say): void
  /** As it is in a new site made from this one; null where it stays behind. */
  inAnotherSite?(entity: z.infer<S>): z.infer<S> | null
}

export interface Kind<
  C extends string = string,
  N extends string = string,
  S extends z.ZodObject = z.ZodObject,
  B = object,
> extends Described<never> {
  readonly collection: C
  readonly noun: N
  readonly word: string
  readonly plural: string
  readonly schema: S
  readonly most: number
  readonly blank: B
  readonly together: Readonly<Record<string, string>>
  readonly isOneStatement: boolean
  readonly deciding: readonly string[]
  readonly fieldWords: Readonly<Record<string, string>>
  readonly references: readonly Reference<never>[]
  readonly apart: readonly string[]
  nameOf?(entity: never, plan: never, named: (id: string) => string): string
  check?(entity: never, plan: never, say: Say): void
  inAnotherSite?(entity: never): object | null
}

export const defineKind = <
  const C extends string,
  const N extends string,
  S extends z.ZodObject,
  B extends keyof z.infer<S> = never,
  P = unknown,
>(
  given: KindGiven<C, N, S, B, P>,
): Kind<C, N, S, Pick<z.infer<S>, B>> =>
  ({
    blank: {},
    together: {},
    isOneStatement: false,
    deciding: [],
    fieldWords: {},
    references: [],
    apart: [],
    ...given,
  }) as unknown as Kind<C, N, S, Pick<z.infer<S>, B>>

/** A part of the plan that there is one of. */
export interface Single<T extends string = string, S extends z.ZodObject = z.ZodObject> {
  readonly top: T
  readonly schema: S
  readonly references: readonly Reference<never>[]
  readonly apart: readonly string[]
  readonly fieldWords: Readonly<Record<string, string>>
}
export const defineSingle = <const T extends string, S extends z.ZodObject>(
  given: { readonly top: T; readonly schema: S } & Described<z.infer<S>>,
): Single<T, S> =>
  ({ references: [], apart: [], fieldWords: {}, ...given }) as unknown as Single<T, S>
