/** Kinds of wireless client: what they know, and what they need. */
import { z } from 'zod'
import { bands, widths } from '../../radio/bands'
import { generations } from '../../radio/rates'
import { defineKind } from './kind'
import { idSchema, nameSchema } from '../values'

export const clientTypeSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  /** IEEE 802.11: 1 b, 2 a/g, 4 n, 5 ac, 6 ax, 7 be. */
  generation: z.union(generations.map((g) => z.literal(g))),
  streams: z.int().min(1).max(8),
  widthMhz: z.union(widths.map((w) => z.literal(w))),
  bands: z.array(z.enum(bands)).min(1).max(3),
  knowsWpa3: z.boolean(),
  /** What it sends with, dBm. */
  powerDbm: z.number().min(-10).max(36),
  /** Under this level it does not join, dBm. */
  leastDbm: z.number().min(-95).max(-30),
  /** In the mean of a busy hour, Mbit/s. */
  needMbps: z.number().min(0).max(1000),
})
export type ClientType = z.infer<typeof clientTypeSchema>

export const clientTypes = defineKind({
  collection: 'clientTypes',
  noun: 'ClientType',
  word: 'kind of client',
  plural: 'kinds of client',
  schema: clientTypeSchema,
  most: 100,
  blank: {
    generation: 5,
    streams: 2,
    widthMhz: 80,
    bands: ['2.4', '5'],
    knowsWpa3: true,
    powerDbm: 14,
    leastDbm: -75,
    needMbps: 2,
  },
  fieldWords: {
    widthMhz: 'width, MHz',
    powerDbm: 'power, dBm',
    leastDbm: 'least level, dBm',
    needMbps: 'need, Mbit/s',
  },
})
