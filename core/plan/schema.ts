/**
 * The site plan: one JSON document that holds what is intended, never results and never secrets.
 * Entities live in maps by id; references between them are ids. What they are is said kind by kind
 * in `kinds/`; `references.ts` checks what a schema cannot.
 */
import { z } from 'zod'
import { kinds, type PlanKind } from './kinds'
import { controllerSchema } from './kinds/controller'
import { siteSchema } from './kinds/site'
import { idSchema } from './values'

/** The version of this document format. Older documents are brought up by `migrate.ts`. */
export const PLAN_VERSION = 16

type Maps = {
  [K in PlanKind as K['collection']]: z.ZodRecord<typeof idSchema, K['schema']>
}
const maps = Object.fromEntries(
  kinds.map((k) => [k.collection, z.record(idSchema, k.schema as z.ZodObject)]),
) as unknown as Maps

export const planSchema = z.strictObject({
  version: z.literal(PLAN_VERSION),
  site: siteSchema,
  ...maps,
  controller: controllerSchema,
})
export type SitePlan = z.infer<typeof planSchema>

export * from './values'
export { collections, isCollection, kindOf, kinds, type Collection, type Top } from './kinds'
export type { Kind } from './kinds/kind'
export * from './kinds/area'
export * from './kinds/bridge'
export * from './kinds/bridgeUnit'
export * from './kinds/clientType'
export * from './kinds/controller'
export * from './kinds/device'
export * from './kinds/floor'
export * from './kinds/forward'
export * from './kinds/group'
export * from './kinds/intent'
export * from './kinds/knownNetwork'
export * from './kinds/lineChoice'
export * from './kinds/link'
export * from './kinds/location'
export * from './kinds/peer'
export * from './kinds/port'
export * from './kinds/profile'
export * from './kinds/scan'
export * from './kinds/segment'
export * from './kinds/service'
export * from './kinds/site'
export * from './kinds/tunnel'
export * from './kinds/uplink'
export * from './kinds/walk'
export * from './kinds/wall'
export * from './kinds/wirelessNetwork'
