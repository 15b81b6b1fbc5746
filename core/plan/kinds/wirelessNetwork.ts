/** Networks on the air. */
import { z } from 'zod'
import { bands } from '../../radio/bands'
import { defineKind } from './kind'
import { hardwareAddressSchema, idSchema, nameSchema, subnetSchema } from '../values'

/** The most octets of a network's name (IEEE 802.11 9.4.2.2). */
const MOST_NAME_OCTETS = 32

/** From the strongest; the last two and `open` are met, and not made new. */
export const securities = ['wpa3', 'wpa2-wpa3', 'wpa2', 'wpa-wpa2', 'wep', 'open'] as const
export type Security = (typeof securities)[number]

/** A page that whoever joins sees first. */
export const portalSchema = z.strictObject({
  entry: z.enum(['terms', 'password']),
  /** Name of the password in the vault. */
  passwordRef: z.string().max(64).nullable(),
  /** After that it is shown again. */
  sessionMinutes: z.int().min(5).max(43_200),
  /** What is reached before it was passed, beside names and the page itself. */
  before: z.array(subnetSchema).max(20),
  title: nameSchema,
  /** The terms, or what is said to guests. */
  text: z.string().max(4000),
  colour: z.string().regex(/^#[0-9a-f]{6}$/, 'a colour is # and six digits, for example #1b4b5a'),
})
export type Portal = z.infer<typeof portalSchema>

export const wirelessNetworkSchema = z.strictObject({
  id: idSchema,
  name: z
    .string()
    .min(1, 'a network name is needed')
    .refine(
      (t) => new TextEncoder().encode(t).length <= MOST_NAME_OCTETS,
      'a network name is at most 32 octets (IEEE 802.11)',
    ),
  segmentId: idSchema,
  security: z.enum(securities),
  /** Name of the key in the vault; the key itself is never in the plan. */
  keyRef: z.string().max(64).nullable(),
  clientIsolation: z.boolean(),
  accessPointIds: z.array(idSchema).max(256),
  /** Those that it is sent in, where a radio is. */
  bands: z.array(z.enum(bands)).min(1, 'a network is sent in at least one band').max(3),
  isHidden: z.boolean(),
  /** Joining by a button that is left on. */
  joinsByButton: z.boolean(),
  /** Only these may join; with none, everybody who has the key. */
  allowed: z.array(hardwareAddressSchema).max(200),
  /** Who is heard weaker is not let in, dBm; null lets everybody in. */
  leastDbm: z.number().min(-95).max(-40).nullable(),
  /** Who knows 5 or 6 GHz is led there. */
  leadsUp: z.boolean(),
  /** Only whom it hears so well there, dBm. */
  leadsUpDbm: z.number().min(-90).max(-40),
  portal: portalSchema.nullable(),
})

export type WirelessNetwork = z.infer<typeof wirelessNetworkSchema>

export const wirelessNetworks = defineKind({
  collection: 'wirelessNetworks',
  noun: 'WirelessNetwork',
  word: 'wireless network',
  plural: 'wireless networks',
  schema: wirelessNetworkSchema,
  most: 100,
  blank: {
    bands: ['2.4', '5', '6'],
    isHidden: false,
    joinsByButton: false,
    allowed: [],
    leastDbm: null,
    leadsUp: false,
    leadsUpDbm: -70,
    portal: null,
  },
  together: { portal: 'page for guests' },
  fieldWords: {
    accessPointIds: 'on',
    keyRef: 'key',
    clientIsolation: 'client isolation',
    isHidden: 'hidden name',
    joinsByButton: 'joining by button',
    allowed: 'hardware addresses allowed',
    leastDbm: 'least level, dBm',
    leadsUp: 'leads to 5 and 6 GHz',
    leadsUpDbm: 'leads up from, dBm',
  },
  references: [
    { at: 'segmentId', to: ['segments'], whenGone: 'remove' },
    { at: 'accessPointIds.*', to: ['devices'], whenGone: 'drop' },
  ],
})
