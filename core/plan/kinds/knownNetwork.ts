/** Networks that are there whatever is planned. */
import { z } from 'zod'
import { defineKind } from './kind'
import { idSchema, nameSchema, subnet6Schema, subnetSchema, textSchema } from '../values'

/**
 * Networks that are there whatever is planned: what stays on the site, what a tunnel uses, what the
 * other end of a tunnel has.
 */
export const knownNetworkSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  kind: z.enum(['stays', 'tunnel', 'joined']),
  prefix: z.union([subnetSchema, subnet6Schema]),
  note: textSchema,
})

export type KnownNetwork = z.infer<typeof knownNetworkSchema>

export const knownNetworks = defineKind({
  collection: 'knownNetworks',
  noun: 'KnownNetwork',
  word: 'known network',
  plural: 'known networks',
  schema: knownNetworkSchema,
  most: 500,
  inAnotherSite: () => null,
})
