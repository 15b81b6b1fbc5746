/** What one place hears of networks, its own and those of neighbours. */
import { z } from 'zod'
import { bands, widths } from '../../radio/bands'
import { pointSchema } from './floor'
import { defineKind } from './kind'
import { hardwareAddressSchema, idSchema, nameSchema } from '../values'

export const heardSchema = z.strictObject({
  /** Name of the network; empty where it hides it. */
  name: z.string().max(64),
  /** Hardware address of the radio that sends it. */
  address: hardwareAddressSchema,
  band: z.enum(bands),
  /** The number of its first 20 MHz. */
  channel: z.int().min(1).max(233),
  widthMhz: z.union(widths.map((w) => z.literal(w))),
  dbm: z.number().min(-120).max(0),
  /** In its own words. */
  security: z.string().max(64),
})
export type Heard = z.infer<typeof heardSchema>

export const scanSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  /** Where it was taken; null where nobody said. */
  at: z.strictObject({ floorId: idSchema, ...pointSchema.shape }).nullable(),
  takenOn: z.iso.date().nullable(),
  heard: z.array(heardSchema).max(1000),
})

export const scans = defineKind({
  collection: 'scans',
  noun: 'Scan',
  word: 'scan of the air',
  plural: 'scans of the air',
  schema: scanSchema,
  most: 500,
  blank: { at: null, takenOn: null },
  together: { at: 'place of the scan', heard: 'what was heard' },
  fieldWords: { takenOn: 'taken on' },
  references: [
    {
      at: 'at.floorId',
      to: ['floors'],
      whenGone: (s) => {
        s.at = null
      },
    },
  ],
})
