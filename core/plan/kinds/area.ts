/** Areas on a plan of the place: where people are, where nothing may hang, how far it may reach. */
import { z } from 'zod'
import { pointSchema } from './floor'
import { defineKind } from './kind'
import { idSchema, nameSchema } from '../values'

export const areaKinds = ['people', 'keep-out', 'boundary'] as const

export const areaSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  floorId: idSchema,
  kind: z.enum(areaKinds),
  points: z
    .array(pointSchema)
    .min(3, 'an area has at least three corners')
    .max(200, 'an area has at most 200 corners'),
  /** Heads at the busiest time, each with one of these. */
  heads: z.int().min(0).max(100_000),
  clientTypeId: idSchema.nullable(),
})

export const areas = defineKind({
  collection: 'areas',
  noun: 'Area',
  word: 'area',
  plural: 'areas',
  schema: areaSchema,
  most: 1000,
  blank: { kind: 'people', heads: 0, clientTypeId: null },
  together: { points: 'corners' },
  fieldWords: { clientTypeId: 'what they have in hand' },
  references: [
    { at: 'floorId', to: ['floors'], whenGone: 'remove' },
    { at: 'clientTypeId', to: ['clientTypes'], whenGone: 'clear' },
  ],
})
