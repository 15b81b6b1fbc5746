/**
 * Paths through the air between two antennas: where they stand, what lies between them, how both
 * units are set and what is asked of them.
 */
import { z } from 'zod'
import { defineKind } from './kind'
import type { Link } from './link'
import { idSchema, nameSchema } from '../values'

/** More ground along one path than that is thinned out where it is read in. */
export const MOST_GROUND = 5000

export const polarisations = ['vertical', 'horizontal', 'both'] as const
export type Polarisation = (typeof polarisations)[number]

/** One end, with its antenna as it hangs and its unit as it is set. */
export const bridgeEndSchema = z.strictObject({
  /** WGS 84, degrees; null is where the place of its unit is. */
  at: z
    .strictObject({
      latitude: z.number().min(-90).max(90),
      longitude: z.number().min(-180).max(180),
    })
    .nullable(),
  /** Of the ground above the sea, m; null is what the ground along the path says, else 0. */
  groundM: z.number().min(-500).max(9000).nullable(),
  /** Of the antenna above the ground, m; null is the height of the place of its unit. */
  heightM: z.number().min(0).max(1000).nullable(),
  mount: z.enum(['wall', 'pole', 'mast', 'weighted']),
  /** Weight that holds a mount which is not fixed to the roof, kg. */
  ballastKg: z.number().min(0).max(10_000),
  /** Another antenna than that of the unit. */
  antenna: z
    .strictObject({
      gainDbi: z.number().min(0).max(60),
      widthDegrees: z.number().min(0.1).max(360),
      /** Of a round dish, m. */
      diameterM: z.number().min(0.05).max(10).nullable(),
    })
    .nullable(),
  /** Between the unit and its antenna, dB. */
  cableDb: z.number().min(0).max(60),
  polarisation: z.enum(polarisations),
  role: z.enum(['main', 'far']).nullable(),
  /** By its number in the list of the profile. */
  channel: z.int().min(1).max(9999).nullable(),
  widthMhz: z.number().min(1).max(4320),
  /** At the socket of the unit, dBm; null is all that is lawful. */
  powerDbm: z.number().min(-30).max(60).nullable(),
  /** The country that the unit was told; null while nobody told it one. */
  country: z
    .string()
    .regex(/^[A-Z]{2}$/, 'a country is two capital letters, for example GB')
    .nullable(),
  /** Where its key lies in the vault; empty while it has none. */
  keyRef: z.string().max(64),
  /** Its setting for the length of the path, as its profile counts it; null where it is automatic. */
  distance: z.number().min(0).max(1_000_000).nullable(),
})
export type BridgeEnd = z.infer<typeof bridgeEndSchema>

export const obstacleKinds = ['building', 'trees', 'masts', 'crane', 'hill'] as const

/** Something on the path. */
export const obstacleSchema = z.strictObject({
  name: nameSchema,
  /** Of boats or of a crane: it moves, and counts as high as it ever gets. */
  kind: z.enum(obstacleKinds),
  /** Where it begins, from end A, m. */
  atM: z.number().min(0).max(1_000_000),
  /** Along the path, m. */
  lengthM: z.number().min(0).max(1_000_000),
  /** Of its top above the ground, m. */
  topM: z.number().min(0).max(1000),
  /** m a year. */
  growsM: z.number().min(0).max(5),
  measuredOn: z.iso.date().nullable(),
})
export type Obstacle = z.infer<typeof obstacleSchema>

/** What the air does there, by default: heavy rain and how the air is layered. */
export const climates = ['polar', 'temperate', 'maritime', 'continental', 'tropical'] as const

export const bridgeSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  /** Its two ends are those of the link. */
  linkId: idSchema,
  a: bridgeEndSchema,
  b: bridgeEndSchema,
  /** Heights of the ground above the sea along the path, from end A, m. */
  ground: z
    .array(
      z.strictObject({
        atM: z.number().min(0).max(1_000_000),
        heightM: z.number().min(-500).max(9000),
      }),
    )
    .max(MOST_GROUND),
  obstacles: z.array(obstacleSchema).max(200),
  climate: z.enum(climates),
  /** Rain that falls for 0.01 % of the year, mm/h; null is the usual of the climate. */
  rainMmH: z.number().min(0).max(250).nullable(),
  /** The strongest gust of the place, m/s; null while nobody looked it up. */
  gustMs: z.number().min(1).max(120).nullable(),
  /** What has to pass, Mbit/s; null is what its devices need. */
  wantedMbps: z
    .strictObject({ toB: z.number().min(0).max(100_000), toA: z.number().min(0).max(100_000) })
    .nullable(),
  /** Of the year, %. */
  availabilityPercent: z.number().min(50).max(99.9999),
  /** What a licence for this path allows (EIRP), dBm; null where there is none. */
  licensedDbm: z.number().min(-30).max(100).nullable(),
  /** A reading with another antenna at one end, before the final one hung. */
  trial: z
    .strictObject({
      end: z.enum(['a', 'b']),
      gainDbi: z.number().min(0).max(60),
      dbm: z.number().min(-120).max(20),
      takenOn: z.iso.date().nullable(),
    })
    .nullable(),
  /** What an end hears of others. */
  heard: z
    .array(
      z.strictObject({
        end: z.enum(['a', 'b']),
        mhz: z.number().min(100).max(100_000),
        widthMhz: z.number().min(1).max(4320),
        dbm: z.number().min(-120).max(20),
      }),
    )
    .max(200),
})
export type Bridge = z.infer<typeof bridgeSchema>

/** An end that nobody said anything of. */
export const plainEnd: BridgeEnd = {
  at: null,
  groundM: null,
  heightM: null,
  mount: 'pole',
  ballastKg: 0,
  antenna: null,
  cableDb: 0,
  polarisation: 'both',
  role: null,
  channel: null,
  widthMhz: 20,
  powerDbm: null,
  country: null,
  keyRef: '',
  distance: null,
}

export const bridges = defineKind({
  collection: 'bridges',
  noun: 'Bridge',
  word: 'bridge',
  plural: 'bridges',
  schema: bridgeSchema,
  most: 1000,
  apart: ['a', 'b'],
  together: { ground: 'ground along the path', obstacles: 'obstacles', trial: 'trial reading' },
  blank: {
    a: plainEnd,
    b: plainEnd,
    ground: [],
    obstacles: [],
    climate: 'temperate',
    rainMmH: null,
    gustMs: null,
    wantedMbps: null,
    availabilityPercent: 99.9,
    licensedDbm: null,
    trial: null,
    heard: [],
  },
  fieldWords: {
    linkId: 'link',
    a: 'one end',
    b: 'other end',
    rainMmH: 'rain, mm/h',
    gustMs: 'gust, m/s',
    wantedMbps: 'wanted, Mbit/s',
    availabilityPercent: 'availability, %',
    licensedDbm: 'licensed, dBm',
    heard: 'heard of others',
  },
  references: [{ at: 'linkId', to: ['links'], whenGone: 'remove' }],
  check(bridge, plan: { links: Record<string, Link> }, say) {
    const link = plan.links[bridge.linkId]
    if (link && link.medium !== 'radio') say(['linkId'], 'the link is a cable, not through the air')
  },
  inAnotherSite: (b) => ({
    ...b,
    a: { ...b.a, at: null },
    b: { ...b.b, at: null },
    ground: [],
    obstacles: [],
    trial: null,
    heard: [],
  }),
})
