/**
 * What equipment of a kind is and can: sockets, power, factory settings, limits. A plan keeps a
 * copy of each that it uses.
 */
import { z } from 'zod'
import { bands } from '../../radio/bands'
import { generations } from '../../radio/rates'
import { bridgeUnitSchema } from './bridgeUnit'
import { defineKind } from './kind'
import {
  addressWithLengthSchema,
  idSchema,
  nameSchema,
  portNameSchema,
  textSchema,
} from '../values'

export const deviceKinds = [
  'gateway',
  'switch',
  'access-point',
  'bridge-radio',
  'range-extender',
  'injector',
  'modem',
  'controller',
  'host',
] as const

export const lightSchema = z.strictObject({
  colour: z.enum(['white', 'teal', 'amber', 'off']),
  /** Even, or a group of short and long signals that comes again and again: `..-`. */
  rhythm: z.union([
    z.enum(['steady', 'slow', 'double', 'fast', 'none']),
    z
      .string()
      .regex(/^[.-]{1,6}$/, 'is an even rhythm, or up to six short (.) and long (-) signals'),
  ]),
  state: z.enum([
    'off',
    'starting',
    'seeking-address',
    'seeking-controller',
    'awaiting-claim',
    'loading',
    'in-service',
    'fault',
    // Of an extender: how well it hears what it repeats.
    'link-good',
    'link-fair',
    'link-poor',
  ]),
  meaning: textSchema,
})

export const profilePortSchema = z.strictObject({
  name: portNameSchema,
  role: z.enum(['wan', 'lan', 'host']),
  medium: z.enum(['copper', 'optical']),
  speedMbps: z.int().min(10).max(400_000),
  /** IEEE 802.3 power sourcing type of the socket, or null where it feeds nothing. */
  poeOutType: z.union([z.literal(1), z.literal(2), z.literal(3), z.literal(4)]).nullable(),
  poeIn: z.boolean(),
  /**
   * The licence of the profile that the socket needs before it carries anything; null needs none.
   */
  licenceId: idSchema.nullable(),
})

/** What has to be bought or registered before a function works. */
export const licenceSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  kind: z.enum(['licence', 'registration', 'account']),
  unlocks: textSchema,
})

const rate = z.number().positive().max(1_000_000).nullable()

export const limitsSchema = z.strictObject({
  /** How many of each kind it takes as controller; null where it is none. */
  controllerCapacity: z
    .strictObject({
      gateway: z.int().min(0),
      switch: z.int().min(0),
      'access-point': z.int().min(0),
      'bridge-radio': z.int().min(0),
    })
    .nullable(),
  /** Tunnels that it holds at once. */
  tunnels: z.int().min(0).max(100_000).nullable(),
  plainMbps: rate,
  inspectedMbps: rate,
  tunnelledMbps: rate,
})

/**
 * `lease-guard`: lease servers answer by named sockets only; `router-guard`: the same of IPv6
 * routers (RFC 6105); `edge-guard`: a socket for hosts closes when a bridge speaks there;
 * `spanning-tree`: loops are found and a cable of them blocked (IEEE 802.1Q 13); `storm-limit`: no
 * more
 * broadcasts than so many; `neighbours`: it says who it is (LLDP, IEEE 802.1AB); `monitoring`:
 * SNMPv3; `remote-log`: it sends its log elsewhere.
 */
export const abilities = [
  'spanning-tree',
  'lease-guard',
  'router-guard',
  'edge-guard',
  'storm-limit',
  'neighbours',
  'monitoring',
  'remote-log',
] as const

export type Ability = (typeof abilities)[number]

/** A radio as it is built. */
export const radioSchema = z.strictObject({
  /** Those that it can be set to, one at a time. */
  bands: z.array(z.enum(bands)).min(1).max(3),
  /** IEEE 802.11: 1 b, 2 a/g, 4 n, 5 ac, 6 ax, 7 be. */
  generation: z.union(generations.map((g) => z.literal(g))),
  streams: z.int().min(1).max(8),
  /** The most at its antenna socket, dBm. */
  powerDbm: z.number().min(-10).max(36),
  /** Of its antenna in its best direction, dBi. */
  gainDbi: z.number().min(-10).max(60),
  /** null of one that sends all around. */
  beam: z
    .strictObject({
      widthDegrees: z.number().min(0.1).max(360),
      frontToBackDb: z.number().min(0).max(80),
    })
    .nullable(),
})
export type Radio = z.infer<typeof radioSchema>

/**
 * How it is reached while it is as from its box: its cable, a radio of its own that opens for it, a
 * phone's short-range radio, an adapter in a socket of its own, a serial console.
 */
export const setUpWays = ['cable', 'set-up-radio', 'short-range', 'adapter', 'console'] as const
export type SetUpWay = (typeof setUpWays)[number]

export const profileSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  kind: z.enum(deviceKinds),
  ports: z.array(profilePortSchema).min(1).max(96),
  air: z.array(radioSchema).max(4),
  /** Of a radio for bridges; null of everything else, and of one that nobody described. */
  bridge: bridgeUnitSchema.nullable(),
  /**
   * `managed` assigns VLANs per port; `transparent` passes tags untouched; `unaware` drops tagged
   * frames; `none` is a host.
   */
  vlan: z.enum(['managed', 'transparent', 'unaware', 'none']),
  /** Whether a controller can adopt it. */
  adoptable: z.boolean(),
  /** `linux` is set up as a Linux host is; `own` by its own page, or not at all. */
  system: z.enum(['linux', 'own']),
  /** Power that the switch can give in all, W; null where it feeds nothing. */
  poeBudgetW: z.number().min(0).max(5000).nullable(),
  /**
   * What it sets aside for each device: what its class may take, what it asks for over LLDP (IEEE
   * 802.3 79.3.2), or what is measured.
   */
  poeAllocation: z.enum(['class', 'lldp', 'measured']),
  /** What it draws at the most, W. */
  drawW: z.number().min(0).max(2000),
  /** IEEE 802.3 class of what it draws over the cable; null where it cannot be powered so. */
  poeClass: z.int().min(0).max(8).nullable(),
  factory: z.strictObject({
    /**
     * The address that it answers on when new, with its subnet; null where it has none of its own.
     */
    address: addressWithLengthSchema.nullable(),
    /** `server` hands out leases on its LAN when new, `client` asks for one. */
    dhcp: z.enum(['server', 'client', 'none']),
    account: textSchema.nullable(),
  }),
  /**
   * `minimum` is what a claim by serial or the controller asks for at the least; empty where
   * anything will do.
   */
  firmware: z.strictObject({
    shipped: z.string().max(20),
    wanted: z.string().max(20),
    minimum: z.string().max(20),
  }),
  /** What its settings know beyond VLANs. */
  abilities: z.array(z.enum(abilities)).max(16),
  /** Length of the power lead in the box, m; null where it has none. */
  leadM: z.number().min(0).max(100).nullable(),
  /** What it hangs or stands on. */
  mount: z.enum(['rack', 'shelf', 'wall', 'ceiling', 'pole', 'none']),
  /**
   * Shape of its serials: ? for a letter, # for a digit, everything else stands for itself; null
   * where any will do.
   */
  serialShape: z
    .string()
    .min(3)
    .max(32)
    .regex(
      /^[A-Z0-9?#-]+$/,
      'a shape of serials is capital letters, digits, hyphens, ? for a letter and # for a ' +
        'digit, for example AM-???-#####',
    )
    .nullable(),
  limits: limitsSchema,
  licences: z.array(licenceSchema).max(16),
  waits: z.strictObject({
    bootSeconds: z.int().min(0).max(3600),
    firmwareSeconds: z.int().min(0).max(3600),
    applySeconds: z.int().min(0).max(3600),
  }),
  lights: z.array(lightSchema).max(16),
  setUp: z.strictObject({
    /** The usual one first. */
    ways: z.array(z.enum(setUpWays)).min(1).max(5),
    /** How long its button is held until it forgets everything, s; null where it has none. */
    resetSeconds: z.int().min(1).max(120).nullable(),
    /** Where its lamp is, for whoever plugs it in. */
    lamp: z.string().max(80),
    /** What a display of a character or two says, on those that have one. */
    /** Sockets for antennas that are screwed on before it has power; empty where they are fixed. */
    antennas: z.array(z.string().min(1).max(24)).max(16),
    display: z
      .array(z.strictObject({ shows: z.string().min(1).max(2), meaning: textSchema }))
      .max(24),
  }),
})

export type Profile = z.infer<typeof profileSchema>
export type ProfilePort = z.infer<typeof profilePortSchema>
export type Light = z.infer<typeof lightSchema>
export type Licence = z.infer<typeof licenceSchema>

export const profiles = defineKind({
  collection: 'profiles',
  noun: 'Profile',
  word: 'profile',
  plural: 'profiles',
  schema: profileSchema,
  most: 300,
  isOneStatement: true,
  deciding: ['ports', 'licences'],
  fieldWords: { leadM: 'lead, m', serialShape: 'shape of serials', setUp: 'setting up' },
  check: (p, _, say) =>
    p.ports.forEach((q, i) => {
      if (q.licenceId !== null && !p.licences.some((l) => l.id === q.licenceId))
        say(['ports', i, 'licenceId'], `the profile has no licence '${q.licenceId}'`)
    }),
})
