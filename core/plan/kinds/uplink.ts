/** Lines to the internet, and what their provider handed off. */
import { z } from 'zod'
import { defineKind } from './kind'
import {
  hardwareAddressSchema,
  idSchema,
  ipv4Schema,
  nameSchema,
  subnet6Schema,
  subnetSchema,
  textSchema,
  vlanIdSchema,
  addressWithLengthSchema,
} from '../values'

export const handOffSchema = z.strictObject({
  /** null is always "not known yet"; what is known to be absent has a word of its own. */
  mode: z.enum(['automatic', 'fixed', 'pppoe', 'cellular']).nullable(),
  /**
   * Name of the account of a PPPoE line; its password is in the vault under `line-` and the id of
   * the line.
   */
  pppoeUser: textSchema.nullable(),
  passwordRef: z.string().max(64).nullable(),
  /** Access point name of a cellular line. */
  accessPointName: z.string().max(100).nullable(),
  /** Speed that the socket has to be forced to, Mbit/s. */
  forcedSpeedMbps: z
    .union([
      z.literal('negotiated'),
      z.literal(10),
      z.literal(100),
      z.literal(1000),
      z.literal(2500),
      z.literal(10_000),
    ])
    .nullable(),
  ipv6: z
    .union([
      z.literal('none'),
      z.strictObject({
        mode: z.enum(['delegated', 'fixed']),
        /** Of the prefix for the site. */ length: z.int().min(16).max(64),
        prefix: subnet6Schema.nullable(),
      }),
    ])
    .nullable(),
  vlan: z.union([z.literal('untagged'), vlanIdSchema]).nullable(),
  priority: z.int().min(0).max(7).nullable(),
  mtu: z.int().min(576).max(9216).nullable(),
  addressKind: z.enum(['public', 'carrier-grade', 'private']).nullable(),
  /** Fixed address with its length, for example 203.0.113.10/29. */
  address: addressWithLengthSchema.nullable(),
  gateway: ipv4Schema.nullable(),
  nameServers: z.array(ipv4Schema).max(4),
  /** The LAN on the provider's own router, which ours must not overlap. */
  providerLan: z.union([z.literal('none'), subnetSchema]).nullable(),
  pinnedHardwareAddress: z.union([z.literal('none'), hardwareAddressSchema]).nullable(),
  downMbps: z.number().positive().max(400_000).nullable(),
  upMbps: z.number().positive().max(400_000).nullable(),
  /** What is included a month, GB, and the price of each beyond. */
  cap: z
    .union([
      z.literal('none'),
      z.strictObject({
        gigabytes: z.number().positive().max(1_000_000),
        pricePerGb: z.number().min(0).max(10_000),
      }),
    ])
    .nullable(),
})

/** More failed tests in a row than anybody waits for. */
const roundsSchema = z.int().min(1).max(1000)
/** How the gateway knows whether a line leads anywhere. */
export const watchSchema = z.strictObject({
  /** What is asked in each round; with nothing, only the signal of the socket tells. */
  tests: z
    .array(
      z.strictObject({
        kind: z.enum(['ping', 'tcp', 'dns', 'http']),
        /** An address or a name. */
        target: z.string().trim().min(1).max(253),
        /** Of a TCP test. */
        port: z.int().min(1).max(65_535).nullable(),
      }),
    )
    .max(16),
  /** How many of them have to answer for a round to be good. */
  need: z.union([z.literal('any'), z.literal('all'), z.int().min(1).max(16)]),
  intervalSeconds: z.number().min(0.5).max(3600),
  /** How long an answer is waited for. */
  answerSeconds: z.number().min(0.05).max(3600),
  /** Failed rounds in a row that take the line out of use. */
  failures: roundsSchema,
  /** Good rounds in a row that bring it back. */
  successes: roundsSchema,
  /** A socket without a signal is dead at once, or counted like a test that failed. */
  linkLoss: z.enum(['at-once', 'counted']),
})
/** How often a year something is dead, and for how many hours in the mean; null is not known. */
const failingSchema = z
  .strictObject({
    timesAYear: z.number().min(0).max(100_000),
    hours: z.number().min(0).max(8766),
  })
  .nullable()
/** Of 0 to 100 tests how many are lost. */
const percentSchema = z.number().min(0).max(100)
const secondsSchema = z.number().min(0).max(100_000_000)

/**
 * `rank` 0 is the line that is used first; lines of one rank share what leaves, by their weights.
 */
export const uplinkSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  rank: z.int().min(0).max(15),
  /** Its share among the lines of its rank; 0 takes nothing while another of them leads anywhere. */
  weight: z.int().min(0).max(1000),
  portId: idSchema.nullable(),
  handOff: handOffSchema,
  /** On all the time, or switched on when it is needed. */
  standby: z.enum(['hot', 'cold']),
  /** Until it leads anywhere once it is switched on; null is not known. */
  startSeconds: z.number().min(0).max(3600).nullable(),
  /** Whether what stands before the socket keeps its signal while the line is dead. */
  keepsSignal: z.boolean(),
  /** Whether what goes by it is looked into. */
  isInspected: z.boolean(),
  watch: watchSchema.nullable(),
  /** What a cellular line needs before it has power; null where nobody asked, or it is none. */
  cellular: z
    .strictObject({
      /** Who pays, as the provider knows them. */
      account: z.string().trim().max(80),
      /** Number on the SIM card (ITU-T E.118). */
      card: z.string().trim().max(24),
      antennas: z
        .array(z.strictObject({ name: nameSchema, socket: z.string().trim().min(1).max(24) }))
        .max(8),
    })
    .nullable(),
  /** Of a line by satellite: what its dish sees of the sky, and its cable; null of any other. */
  sky: z
    .strictObject({
      /** The cable that is fixed to the dish, m. */
      cableM: z.number().min(0).max(300),
      /** From the dish to what takes its cable, m. */
      toSocketM: z.number().min(0).max(10_000),
      /** The part of the sky that it needs: its middle, clockwise from north, and how wide. */
      azimuthDegrees: z.number().min(0).max(360),
      widthDegrees: z.number().min(1).max(360),
      /** And from how far above the horizon on. */
      fromDegrees: z.number().min(0).max(89),
      /** What stands there, as seen from the dish: from, to (clockwise) and how far up. */
      obstacles: z
        .array(
          z.strictObject({
            name: nameSchema,
            fromDegrees: z.number().min(0).max(360),
            toDegrees: z.number().min(0).max(360),
            upDegrees: z.number().min(0).max(90),
          }),
        )
        .max(64),
    })
    .nullable(),
  /** What it lies on or hangs from; what bears the same name under two lines is the same thing. */
  parts: z
    .array(
      z.strictObject({
        kind: z.enum([
          'duct',
          'building entry',
          'provider',
          'exchange',
          'modem',
          'power strip',
          'mast',
        ]),
        name: nameSchema,
        failing: failingSchema,
      }),
    )
    .max(8),
  /** Of the line by itself. */
  failing: failingSchema,
  /** Tests that get no answer though the line works; null is not known. */
  loss: z
    .strictObject({
      percent: percentSchema,
      bursts: z
        .strictObject({
          percent: percentSchema,
          lengthSeconds: secondsSchema.positive(),
          apartSeconds: secondsSchema.positive(),
        })
        .nullable(),
    })
    .nullable(),
})

export type Uplink = z.infer<typeof uplinkSchema>
export type LineWatch = z.infer<typeof watchSchema>
export type HandOff = z.infer<typeof handOffSchema>

export const unknownHandOff: HandOff = {
  mode: null,
  pppoeUser: null,
  passwordRef: null,
  accessPointName: null,
  forcedSpeedMbps: null,
  ipv6: null,
  vlan: null,
  priority: null,
  mtu: null,
  addressKind: null,
  address: null,
  gateway: null,
  nameServers: [],
  providerLan: null,
  pinnedHardwareAddress: null,
  downMbps: null,
  upMbps: null,
  cap: null,
}
/** What a line has of which only its hand-off was asked. */
export const plainLine = {
  weight: 1,
  standby: 'hot',
  startSeconds: null,
  keepsSignal: true,
  isInspected: false,
  watch: null,
  cellular: null,
  sky: null,
  parts: [],
  failing: null,
  loss: null,
} satisfies Partial<Uplink>
export const uplinks = defineKind({
  collection: 'uplinks',
  noun: 'Uplink',
  word: 'line',
  plural: 'lines',
  schema: uplinkSchema,
  most: 16,
  blank: { rank: 0, portId: null, handOff: unknownHandOff, ...plainLine },
  apart: ['handOff'],
  fieldWords: {
    portId: 'port',
    handOff: 'hand-off',
    providerLan: "provider's LAN",
    pinnedHardwareAddress: 'pinned hardware address',
    addressKind: 'kind of address',
    downMbps: 'down, Mbit/s',
    upMbps: 'up, Mbit/s',
    pppoeUser: 'PPPoE account',
    passwordRef: 'password',
    accessPointName: 'access point name',
    forcedSpeedMbps: 'forced speed, Mbit/s',
    pricePerGb: 'price per GB',
    gigabytes: 'included, GB',
    ipv6: 'IPv6',
    startSeconds: 'start-up, s',
    keepsSignal: 'keeps its signal',
    isInspected: 'inspection',
    watch: 'how it is tested',
    parts: 'what it lies on',
    failing: 'how often it is dead',
    loss: 'usual loss',
    card: 'SIM card',
    sky: 'sky',
  },
  references: [{ at: 'portId', to: ['ports'], whenGone: 'clear', isPlug: 'beside its kind' }],
  check(u, _, say) {
    const { watch } = u
    if (!watch) return
    if (watch.answerSeconds > watch.intervalSeconds)
      say(['watch', 'answerSeconds'], 'an answer is waited for no longer than until the next round')
    for (const [i, t] of watch.tests.entries())
      if (t.kind === 'tcp' && t.port === null)
        say(['watch', 'tests', i, 'port'], 'a TCP test needs a port')
  },
  // What the other line is, its own provider tells; where it lies, the other place.
  inAnotherSite: (u) => ({
    ...u,
    handOff: { ...unknownHandOff, mode: u.handOff.mode },
    sky: null,
    cellular: null,
    parts: [],
    failing: null,
    loss: null,
  }),
})
