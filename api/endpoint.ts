/**
 * What browser and server say to each other, route by route: one description, by which the server
 * checks what it is asked, types what it answers, and the browser checks what it was answered.
 */
import type { Role } from '@mast/core/roles'
import type { z } from 'zod'

export interface Endpoint {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE'
  /** With `:name` where something is filled in; what is for members has `:site`. */
  readonly path: string
  /** Who may ask: anybody, who is signed in, or members with this role at the least. */
  readonly access: 'anybody' | 'account' | Role
  /** Of what is filled in beside the site, and of what stands behind the question mark. */
  readonly params?: Readonly<Record<string, z.ZodType>>
  readonly query?: z.ZodType
  readonly body?: z.ZodType
  /** Left out where the answer is no JSON that a program of ours reads. */
  readonly reply?: z.ZodType
}

type Names<P> = P extends `${string}:${infer N}/${infer R}`
  ? N | Names<R>
  : P extends `${string}:${infer N}`
    ? N
    : never
type OwnNames<P> = Exclude<Names<P>, 'site'>
type Params<P> = [OwnNames<P>] extends [never]
  ? { readonly params?: undefined }
  : { readonly params: Readonly<Record<OwnNames<P>, z.ZodType>> }

/** A route. What its path has is what its parameters are, or it does not compile. */
export const endpoint = <const P extends string, const E extends Endpoint>(
  e: E & { readonly path: P } & Params<P>,
): E => e

type Read<T, K extends string> =
  T extends Readonly<Record<K, infer S extends z.ZodType>> ? z.output<S> : undefined

type FilledIn<E extends Endpoint> =
  E['params'] extends Readonly<Record<string, z.ZodType>>
    ? { readonly [N in keyof E['params']]: string | number }
    : unknown

/** What whoever asks gives: nothing is left out that the route needs. */
export type Asked<E extends Endpoint> = (E['access'] extends Role
  ? { readonly params: { readonly site: string } & FilledIn<E> }
  : E['params'] extends Readonly<Record<string, z.ZodType>>
    ? { readonly params: FilledIn<E> }
    : { readonly params?: undefined }) &
  (E['query'] extends z.ZodType
    ? { readonly query?: z.input<E['query']> }
    : { readonly query?: undefined }) &
  (E['body'] extends z.ZodType
    ? { readonly body: z.input<E['body']> }
    : { readonly body?: undefined })

export type ParamsGiven<E extends Endpoint> =
  E['params'] extends Readonly<Record<string, z.ZodType>>
    ? { readonly [N in keyof E['params']]: z.output<E['params'][N]> }
    : unknown
export type QueryGiven<E extends Endpoint> = Read<E, 'query'>
export type BodyGiven<E extends Endpoint> = Read<E, 'body'>
export type Reply<E extends Endpoint> = Read<E, 'reply'>

/** What becomes that reply when it is written as JSON: a date becomes its moment. */
export type Sendable<T> = T extends string
  ? string extends T
    ? T | Date
    : T
  : T extends readonly (infer U)[]
    ? readonly Sendable<U>[]
    : T extends object
      ? { readonly [K in keyof T]: Sendable<T[K]> }
      : T
export type ReplySent<E extends Endpoint> =
  E extends Readonly<Record<'reply', z.ZodType>> ? Sendable<z.output<E['reply']>> : unknown

interface Loose {
  readonly params?: Readonly<Record<string, string | number>>
  readonly query?: Readonly<Record<string, unknown>>
}
/** The path of a route with everything filled in. */
export function pathOf<E extends Endpoint>(e: E, asked: Asked<E>): string {
  const { params = {}, query = {} } = asked as Loose
  const path = e.path.replace(/:(\w+)/g, (_, name: string) =>
    encodeURIComponent(String(params[name])),
  )
  const given = Object.entries(query).flatMap(([k, v]): [string, string][] =>
    v === undefined ? [] : [[k, String(v)]],
  )
  return given.length > 0 ? `${path}?${new URLSearchParams(given).toString()}` : path
}
