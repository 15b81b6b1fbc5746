/** Boxes: gateways, switches, access points, radios, hosts. */
import { z } from 'zod'
import { bands, takenBy, widths } from '../../radio/bands'
import { pointSchema } from './floor'
import { defineKind } from './kind'
import { setUpWays, type Profile } from './profile'
import {
  hardwareAddressSchema,
  idSchema,
  ipv4Schema,
  nameSchema,
  portIdOf,
  serialSchema,
} from '../values'

/** One radio of a device. */
export const radioSettingSchema = z
  .strictObject({
    isOn: z.boolean(),
    band: z.enum(bands),
    /** The number of its first 20 MHz. */
    channel: z.int().min(1).max(233).nullable(),
    widthMhz: z.union(widths.map((w) => z.literal(w))),
    /** At its antenna socket, dBm. */
    powerDbm: z.number().min(-10).max(36).nullable(),
  })
  .refine(
    (r) =>
      r.channel === null ||
      takenBy({ band: r.band, primary: r.channel, widthMhz: r.widthMhz }) !== undefined,
    'there is no such channel in this band, or it cannot be so wide there',
  )
export type RadioSetting = z.infer<typeof radioSettingSchema>

/**
 * On the air: sends networks of its own; repeats those of another; is somebody's client, for what is
 * cabled to it; is one of two ends; or routes, with leases and an address space of its own, behind a
 * provider on the air.
 */
export const modes = ['access-point', 'repeater', 'client', 'bridge', 'router'] as const
export type Mode = (typeof modes)[number]

/**
 * How it comes into the controller: everything is prepared there and fetched by the device; password
 * and firmware by hand and the rest from there; or all of it by its own page, and adopted afterwards.
 */
export const schools = ['prepared', 'mixed', 'own-page'] as const
export type School = (typeof schools)[number]

export const deviceSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  profileId: idSchema,
  locationId: idSchema.nullable(),
  serial: serialSchema.nullable(),
  hardwareAddress: hardwareAddressSchema.nullable(),
  /** Firmware read off the device before anything was done to it. */
  firmware: z.string().max(20).nullable(),
  /** What it is to run, newer or older than its kind; null is what its kind is to run. */
  firmwareWanted: z
    .string()
    .regex(/^[\w.+-]{1,20}$/, 'a version is digits, letters, dots and hyphens, for example 2.4.1')
    .nullable(),
  /**
   * How it gets its address and in which segment; a gateway has none of its own, it holds every
   * segment's.
   */
  addressing: z.strictObject({
    mode: z.enum(['automatic', 'reserved', 'fixed']),
    segmentId: idSchema.nullable(),
    address: ipv4Schema.nullable(),
    /** The mask and gateway as typed into the device; only meaningful where the mode is fixed. */
    gateway: ipv4Schema.nullable(),
  }),
  /**
   * `poe` from the switch that its cable leads to, `injector` from one beside an outlet, `battery`
   * from none of these.
   */
  power: z.enum(['outlet', 'poe', 'injector', 'battery']),
  /** It was here before and stays. */
  stays: z.boolean(),
  /** Licences and registrations of its profile that it has. */
  licencesHeld: z.array(idSchema).max(16),
  /** For a host without a cable: the network that it joins. */
  wirelessNetworkId: idSchema.nullable(),
  /** Services that it offers to others. */
  serviceIds: z.array(idSchema).max(16),
  /** Where it hangs on a plan of the place; null while nobody put it there. */
  place: z
    .strictObject({
      floorId: idSchema,
      ...pointSchema.shape,
      /** Above the floor, m. */
      heightM: z.number().min(-10).max(200),
      /** Where the antenna points to, clockwise from up the plan. */
      degrees: z.number().min(0).max(360),
      /** It hangs there for good; until then nothing is measured by it. */
      stays: z.boolean(),
    })
    .nullable(),
  /** How its radios are set, in the order of the profile; null is left to the plan of channels. */
  radios: z.array(radioSettingSchema).max(4),
  /** What it does on the air; null is what its kind is for. */
  mode: z.enum(modes).nullable(),
  /** Of a repeater or a client: whom it listens to. */
  listensToId: idSchema.nullable(),
  /** null is `mixed`, or `own-page` where no controller adopts it. */
  school: z.enum(schools).nullable(),
  /** Where it is set up; null is on the bench. */
  setUpAt: z.enum(['bench', 'place']).nullable(),
  /** null is the first way of its profile. */
  setUpBy: z.enum(setUpWays).nullable(),
  /** Asks an address now and then, and starts anew once so many have not been answered. */
  watchdog: z
    .strictObject({
      address: ipv4Schema,
      everySeconds: z.int().min(10).max(3600),
      failures: z.int().min(1).max(60),
    })
    .nullable(),
})

export type Device = z.infer<typeof deviceSchema>

const nowhere: Device['addressing'] = {
  mode: 'automatic',
  segmentId: null,
  address: null,
  gateway: null,
}
export const devices = defineKind({
  collection: 'devices',
  noun: 'Device',
  word: 'device',
  plural: 'devices',
  schema: deviceSchema,
  most: 6000,
  blank: {
    locationId: null,
    serial: null,
    hardwareAddress: null,
    firmware: null,
    firmwareWanted: null,
    addressing: nowhere,
    power: 'outlet',
    stays: false,
    licencesHeld: [],
    wirelessNetworkId: null,
    serviceIds: [],
    place: null,
    radios: [],
    mode: null,
    listensToId: null,
    school: null,
    setUpAt: null,
    setUpBy: null,
    watchdog: null,
  },
  together: {
    addressing: 'address',
    watchdog: 'watchdog',
    place: 'place on the plan',
    radios: 'radios',
  },
  deciding: ['profileId'],
  fieldWords: {
    hardwareAddress: 'hardware address',
    firmwareWanted: 'firmware to run',
    locationId: 'place',
    profileId: 'profile',
    segmentId: 'segment',
    wirelessNetworkId: 'joins',
    serviceIds: 'offers',
    licencesHeld: 'licences',
    mode: 'mode on the air',
    listensToId: 'listens to',
    setUpAt: 'set up at',
    setUpBy: 'set up by',
  },
  references: [
    {
      at: 'profileId',
      to: ['profiles'],
      whenGone: { refuse: (d) => `${d.name} is of this kind; remove it first` },
    },
    { at: 'locationId', to: ['locations'], whenGone: 'clear' },
    {
      at: 'addressing.segmentId',
      to: ['segments'],
      whenGone: (d) => {
        d.addressing = { ...nowhere }
      },
    },
    { at: 'wirelessNetworkId', to: ['wirelessNetworks'], whenGone: 'clear' },
    { at: 'serviceIds.*', to: ['services'], whenGone: 'drop' },
    { at: 'listensToId', to: ['devices'], whenGone: 'clear' },
    {
      at: 'place.floorId',
      to: ['floors'],
      whenGone: (d) => {
        d.place = null
      },
    },
  ],
  check(d, plan: { profiles: Record<string, Profile>; ports: Record<string, unknown> }, say) {
    const profile = plan.profiles[d.profileId]
    d.licencesHeld.forEach((l, i) => {
      if (profile && !profile.licences.some((x) => x.id === l))
        say(['licencesHeld', i], `the profile '${profile.name}' has no licence '${l}'`)
    })
    for (const p of profile?.ports ?? []) {
      const portId = portIdOf(d.id, p.name)
      if (!plan.ports[portId])
        say([], `its profile has a port '${p.name}' but the plan has no port '${portId}'`)
    }
  },
  inAnotherSite: (d) => ({
    ...d,
    serial: null,
    hardwareAddress: null,
    firmware: null,
    licencesHeld: [],
    stays: false,
    addressing: { ...d.addressing, address: null, gateway: null },
    watchdog: null,
    firmwareWanted: null,
  }),
})
