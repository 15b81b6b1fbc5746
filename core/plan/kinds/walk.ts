/** Levels that somebody read while walking over a plan of the place. */
import { z } from 'zod'
import { bands } from '../../radio/bands'
import { pointSchema } from './floor'
import { defineKind } from './kind'
import { idSchema } from '../values'

/** More of one walk than that are read in as another. */
export const MOST_READINGS = 10_000

export const walkSchema = z.strictObject({
  id: idSchema,
  floorId: idSchema,
  /** Which was heard, and in which band. */
  deviceId: idSchema,
  band: z.enum(bands),
  takenOn: z.iso.date().nullable(),
  readings: z
    .array(z.strictObject({ ...pointSchema.shape, dbm: z.number().min(-120).max(0) }))
    .min(1, 'a walk has at least one reading')
    .max(MOST_READINGS),
})

export const walks = defineKind({
  collection: 'walks',
  noun: 'Walk',
  word: 'walk with readings',
  plural: 'walks with readings',
  schema: walkSchema,
  most: 500,
  blank: { takenOn: null },
  together: { readings: 'readings' },
  nameOf: (w, _, named) => `readings of ${named(w.deviceId)} on ${named(w.floorId)}`,
  fieldWords: { takenOn: 'taken on' },
  references: [
    { at: 'floorId', to: ['floors'], whenGone: 'remove' },
    { at: 'deviceId', to: ['devices'], whenGone: 'remove' },
  ],
})
