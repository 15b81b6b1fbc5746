/** Plans of the place: a floor or a yard to scale, in metres from its upper left corner. */
import { z } from 'zod'
import { defineKind } from './kind'
import { idSchema, nameSchema } from '../values'

/** The largest place that is drawn, m. */
const MOST_METRES = 5000
const metresSchema = z.number().min(-MOST_METRES).max(MOST_METRES)
export const pointSchema = z.strictObject({ x: metresSchema, y: metresSchema })

export const floorSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  /** The place of equipment that it is of. */
  locationId: idSchema.nullable(),
  widthM: z.number().min(1).max(MOST_METRES),
  depthM: z.number().min(1).max(MOST_METRES),
  isOutdoors: z.boolean(),
  /** Distance coefficient N of ITU-R P.1238; 20 is free space. */
  coefficient: z.number().min(15).max(60),
  /** A picture under the drawing: a file of the site, where its corner lies and how large it is. */
  picture: z
    .strictObject({
      fileId: z.uuid(),
      x: metresSchema,
      y: metresSchema,
      widthM: z.number().positive().max(MOST_METRES),
      depthM: z.number().positive().max(MOST_METRES),
    })
    .nullable(),
  /**
   * Where it lies on the Earth: its upper left corner (WGS 84, degrees), and where its top looks to,
   * clockwise from true north; null while nobody said so.
   */
  lies: z
    .strictObject({
      latitude: z.number().min(-90).max(90),
      longitude: z.number().min(-180).max(180),
      upDegrees: z.number().min(0).max(360),
    })
    .nullable(),
  /** Where something can be plugged in. */
  outlets: z.array(pointSchema).max(500),
})
export type Floor = z.infer<typeof floorSchema>

export const floors = defineKind({
  collection: 'floors',
  noun: 'Floor',
  word: 'plan of the place',
  plural: 'plans of the place',
  schema: floorSchema,
  most: 100,
  blank: {
    locationId: null,
    widthM: 40,
    depthM: 25,
    isOutdoors: false,
    coefficient: 30,
    picture: null,
    lies: null,
    outlets: [],
  },
  together: { picture: 'picture', lies: 'where it lies', outlets: 'outlets' },
  fieldWords: { widthM: 'width, m', depthM: 'depth, m', coefficient: 'distance coefficient' },
  references: [{ at: 'locationId', to: ['locations'], whenGone: 'clear' }],
  // The file stays with its site.
  inAnotherSite: (f) => ({ ...f, picture: null, lies: null }),
})
