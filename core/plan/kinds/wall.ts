/** Walls on a plan of the place, with what they are made of. */
import { z } from 'zod'
import { materialIds } from '../../radio/materials'
import { pointSchema } from './floor'
import { defineKind } from './kind'
import { idSchema } from '../values'

export const wallSchema = z.strictObject({
  id: idSchema,
  floorId: idSchema,
  /** Corner by corner. */
  points: z
    .array(pointSchema)
    .min(2, 'a wall has at least two corners')
    .max(200, 'a wall has at most 200 corners; draw it as two'),
  material: z.enum(materialIds),
  /** Doors, windows and gaps: from and to along the wall, m. */
  openings: z
    .array(
      z
        .strictObject({
          fromM: z.number().min(0).max(10_000),
          toM: z.number().min(0).max(10_000),
          material: z.enum(materialIds).nullable(),
        })
        .refine((o) => o.toM > o.fromM, 'an opening ends behind its beginning'),
    )
    .max(50),
})
export type PlanWall = z.infer<typeof wallSchema>

export const walls = defineKind({
  collection: 'walls',
  noun: 'Wall',
  word: 'wall',
  plural: 'walls',
  schema: wallSchema,
  most: 5000,
  blank: { openings: [] },
  together: { points: 'corners', openings: 'openings' },
  nameOf: (w, _, named) => `${w.material} wall on ${named(w.floorId)}`,
  references: [{ at: 'floorId', to: ['floors'], whenGone: 'remove' }],
})
