/** Where things stand: buildings, floors, cupboards, masts. */
import { z } from 'zod'
import { defineKind } from './kind'
import { idSchema, nameSchema } from '../values'

export const clientKinds = [
  'phone',
  'laptop',
  'tablet',
  'desktop',
  'till',
  'card-terminal',
  'camera',
  'handset',
  'sensor',
  'other',
] as const

export const locationSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  kind: z.enum(['building', 'floor', 'cupboard', 'outdoors', 'kiosk', 'mast', 'roof']),
  /** Whether mains is within reach of a power lead. */
  mains: z.boolean(),
  /** Free outlets; null while nobody counted them. */
  outlets: z.int().min(0).max(1000).nullable(),
  /** From where the equipment stands to the outlet, m; null where it was not measured. */
  outletDistanceM: z.number().min(0).max(1000).nullable(),
  /** WGS 84, degrees. */
  latitude: z.number().min(-90).max(90).nullable(),
  longitude: z.number().min(-180).max(180).nullable(),
  /** Of the place of the equipment above ground, m. */
  heightM: z.number().min(-100).max(1000).nullable(),
  /** Heads at the busiest time. */
  people: z.int().min(0).max(100_000),
  clients: z
    .array(z.strictObject({ kind: z.enum(clientKinds), count: z.int().min(1).max(100_000) }))
    .max(12),
})

export type Location = z.infer<typeof locationSchema>

export const locations = defineKind({
  collection: 'locations',
  noun: 'Location',
  word: 'place',
  plural: 'places',
  schema: locationSchema,
  most: 2000,
  blank: {
    kind: 'building',
    mains: true,
    outlets: null,
    outletDistanceM: null,
    latitude: null,
    longitude: null,
    heightM: null,
    people: 0,
    clients: [],
  },
  fieldWords: { outletDistanceM: 'to the outlet, m', heightM: 'height, m' },
  inAnotherSite: (l) => ({ ...l, latitude: null, longitude: null }),
})
