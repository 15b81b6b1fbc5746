/**
 * The site plan: one JSON document that holds what is intended, never results and never secrets. Entities live in maps
 * by id; references between them are ids. `references.ts` checks what a schema cannot.
 */
import { z } from 'zod'
import { parseAddress } from '../addressing/address'
import { formatPrefix, readPrefix } from '../addressing/prefix'

/** The version of this document format. Older documents are brought up by `migrate.ts`. */
export const PLAN_VERSION = 1

export const MAX_TEXT = 200
const idPattern = /^[a-z][a-z0-9]*([-._][a-z0-9]+)*$/
export const idSchema = z.string().max(64).regex(idPattern, 'an id is lower-case letters, digits, dots and hyphens')
const name = z.string().trim().min(1, 'a name is needed').max(80)
const text = z.string().max(MAX_TEXT)

export const ipv4Schema = z.string().max(15).refine((t) => parseAddress(t)?.family === 4, 'not an IPv4 address; expected for example 10.20.30.1')
export const subnetSchema = z.string().max(18).superRefine((value, ctx) => {
  const read = readPrefix(value)
  if (!('problem' in read)) {
    if (read.family !== 4) ctx.addIssue({ code: 'custom', message: 'not an IPv4 subnet; expected for example 10.20.30.0/24' })
    return
  }
  const message = read.problem === 'host bits set' && read.network
    ? `host bits are set; the subnet is ${formatPrefix(read.network)}`
    : `${read.problem}; expected for example 10.20.30.0/24`
  ctx.addIssue({ code: 'custom', message })
})
export const hardwareAddressSchema = z.string().regex(/^([0-9a-f]{2}:){5}[0-9a-f]{2}$/, 'not a hardware address; expected for example 02:00:5e:10:00:01')
export const serialSchema = z.string().regex(/^[A-Z0-9][A-Z0-9-]{2,31}$/, 'a serial is 3 to 32 capital letters, digits and hyphens')
export const vlanIdSchema = z.int('a VLAN id is a whole number').min(1, 'VLAN ids run from 1 (IEEE 802.1Q)').max(4094, 'VLAN ids end at 4094 (IEEE 802.1Q)')
const spanSchema = z.strictObject({ first: ipv4Schema, last: ipv4Schema })

export const siteSchema = z.strictObject({
  name,
  /** ISO 3166-1 alpha-2. */
  country: z.string().regex(/^[A-Z]{2}$/, 'a country is two capital letters, for example GB'),
  timeZone: z.string().min(1).max(64),
  units: z.enum(['metric', 'imperial']),
  /** The space that segments are allocated from. */
  addressSpace: z.array(subnetSchema).min(1).max(8),
  preferences: z.strictObject({
    vlanNumbering: z.enum(['third-octet', 'free']),
    gatewayPosition: z.enum(['first', 'last']),
    /** What happens between two segments where no intent speaks. */
    betweenSegments: z.enum(['deny', 'allow']),
  }),
})

export const locationSchema = z.strictObject({
  id: idSchema, name,
  kind: z.enum(['building', 'floor', 'cupboard', 'outdoors', 'kiosk']),
  /** Whether mains is within reach of a power lead. */
  mains: z.boolean(),
})

export const deviceKinds = ['gateway', 'switch', 'access-point', 'controller', 'host'] as const
export const lightSchema = z.strictObject({
  colour: z.enum(['white', 'teal', 'amber', 'off']),
  rhythm: z.enum(['steady', 'slow', 'double', 'fast', 'none']),
  state: z.enum(['off', 'starting', 'seeking-address', 'seeking-controller', 'awaiting-claim', 'loading', 'in-service', 'fault']),
  meaning: text,
})

export const profilePortSchema = z.strictObject({
  name: z.string().regex(/^[a-z0-9]{1,12}$/),
  role: z.enum(['wan', 'lan', 'host']),
  medium: z.enum(['copper', 'optical']),
  speedMbps: z.int().min(10).max(400_000),
  /** IEEE 802.3 power sourcing type of the socket, or null where it feeds nothing. */
  poeOutType: z.union([z.literal(1), z.literal(2), z.literal(3), z.literal(4)]).nullable(),
  poeIn: z.boolean(),
})

export const profileSchema = z.strictObject({
  id: idSchema, name,
  kind: z.enum(deviceKinds),
  ports: z.array(profilePortSchema).min(1).max(96),
  radios: z.int().min(0).max(4),
  /** `managed` assigns VLANs per port; `transparent` passes tags untouched; `unaware` drops tagged frames; `none` is a host. */
  vlan: z.enum(['managed', 'transparent', 'unaware', 'none']),
  /** Whether a controller can adopt it. */
  adoptable: z.boolean(),
  /** Power that the switch can give in all, W; null where it feeds nothing. */
  poeBudgetW: z.number().min(0).max(5000).nullable(),
  /** What it draws at the most, W. */
  drawW: z.number().min(0).max(2000),
  /** IEEE 802.3 class of what it draws over the cable; null where it cannot be powered so. */
  poeClass: z.int().min(0).max(8).nullable(),
  factory: z.strictObject({
    /** The address that it answers on when new, with its subnet; null where it has none of its own. */
    address: z.string().regex(/^[\d.]+\/\d+$/).nullable(),
    /** `server` hands out leases on its LAN when new, `client` asks for one. */
    dhcp: z.enum(['server', 'client', 'none']),
    account: text.nullable(),
  }),
  firmware: z.strictObject({ shipped: z.string().max(20), wanted: z.string().max(20) }),
  waits: z.strictObject({
    bootSeconds: z.int().min(0).max(3600),
    firmwareSeconds: z.int().min(0).max(3600),
    applySeconds: z.int().min(0).max(3600),
  }),
  lights: z.array(lightSchema).max(16),
})

export const deviceSchema = z.strictObject({
  id: idSchema, name, profileId: idSchema,
  locationId: idSchema.nullable(),
  serial: serialSchema.nullable(),
  hardwareAddress: hardwareAddressSchema.nullable(),
  /** Firmware read off the device before anything was done to it. */
  firmware: z.string().max(20).nullable(),
  /** How it gets its address and in which segment; a gateway has none of its own, it holds every segment's. */
  addressing: z.strictObject({
    mode: z.enum(['automatic', 'reserved', 'fixed']),
    segmentId: idSchema.nullable(),
    address: ipv4Schema.nullable(),
    /** The mask and gateway as typed into the device; only meaningful where the mode is fixed. */
    gateway: ipv4Schema.nullable(),
  }),
  power: z.enum(['outlet', 'poe']),
  /** For a host without a cable: the network that it joins. */
  wirelessNetworkId: idSchema.nullable(),
  /** Services that it offers to others. */
  serviceIds: z.array(idSchema).max(16),
})

export const portSchema = z.strictObject({
  id: idSchema, deviceId: idSchema,
  name: z.string().regex(/^[a-z0-9]{1,12}$/),
  /** Segment whose frames travel without a tag here, both ways. */
  untaggedSegmentId: idSchema.nullable(),
  taggedSegmentIds: z.array(idSchema).max(128),
})

export const linkSchema = z.strictObject({
  id: idSchema, a: idSchema, b: idSchema,
  medium: z.enum(['copper', 'fibre']),
  lengthM: z.number().min(0.1, 'a cable has a length').max(40_000),
})

export const segmentPurposes = ['management', 'staff', 'servers', 'payments', 'cameras', 'voice', 'instruments', 'guests'] as const
export const segmentSchema = z.strictObject({
  id: idSchema, name,
  purpose: z.enum(segmentPurposes),
  vlanId: vlanIdSchema,
  expectedHosts: z.int().min(1).max(65_000),
  growthPercent: z.number().min(0).max(1000),
  subnet: subnetSchema.nullable(),
  gateway: ipv4Schema.nullable(),
  fixedBlock: spanSchema.nullable(),
  pool: spanSchema.nullable(),
  leaseSeconds: z.int().min(120).max(31_536_000),
})

export const handOffSchema = z.strictObject({
  /** null is always "not known yet"; what is known to be absent has a word of its own. */
  mode: z.enum(['automatic', 'fixed']).nullable(),
  vlan: z.union([z.literal('untagged'), vlanIdSchema]).nullable(),
  priority: z.int().min(0).max(7).nullable(),
  mtu: z.int().min(576).max(9216).nullable(),
  addressKind: z.enum(['public', 'carrier-grade', 'private']).nullable(),
  /** Fixed address with its length, for example 203.0.113.10/29. */
  address: z.string().regex(/^[\d.]+\/\d+$/, 'expected an address with its length, for example 203.0.113.10/29')
    .refine((t) => parseAddress(t.split('/')[0]!)?.family === 4 && Number(t.split('/')[1]) <= 32, 'not an IPv4 address with a length').nullable(),
  gateway: ipv4Schema.nullable(),
  nameServers: z.array(ipv4Schema).max(4),
  /** The LAN on the provider's own router, which ours must not overlap. */
  providerLan: z.union([z.literal('none'), subnetSchema]).nullable(),
  pinnedHardwareAddress: z.union([z.literal('none'), hardwareAddressSchema]).nullable(),
  downMbps: z.number().positive().max(400_000).nullable(),
  upMbps: z.number().positive().max(400_000).nullable(),
})
export const uplinkSchema = z.strictObject({ id: idSchema, name, portId: idSchema.nullable(), handOff: handOffSchema })

export const wirelessNetworkSchema = z.strictObject({
  id: idSchema,
  name: z.string().min(1, 'a network name is needed').refine((t) => new TextEncoder().encode(t).length <= 32, 'a network name is at most 32 octets (IEEE 802.11)'),
  segmentId: idSchema,
  security: z.enum(['wpa3', 'wpa2-wpa3', 'wpa2', 'open']),
  /** Name of the key in the vault; the key itself is never in the plan. */
  keyRef: z.string().max(64).nullable(),
  clientIsolation: z.boolean(),
  accessPointIds: z.array(idSchema).max(256),
})

export const serviceSchema = z.strictObject({
  id: idSchema, name,
  protocol: z.enum(['tcp', 'udp', 'icmp']),
  ports: z.array(z.int().min(1).max(65_535)).max(32),
})

/** A segment id, or `internet`. */
export const placeSchema = z.union([z.literal('internet'), idSchema])
export const intentSchema = z.strictObject({
  id: idSchema, from: placeSchema, to: placeSchema,
  /** A service id, or `any`. */
  service: z.union([z.literal('any'), idSchema]),
  action: z.enum(['allow', 'deny']),
  /** Lower is looked at first. */
  rank: z.int().min(0).max(1_000_000),
  reason: text,
})

export const controllerSchema = z.strictObject({
  hostDeviceId: idSchema.nullable(),
  port: z.int().min(1).max(65_535),
  /** How devices learn of it. */
  discovery: z.enum(['dhcp-option', 'dns-name']),
})

const mapOf = <T extends z.ZodType>(value: T) => z.record(idSchema, value)
export const planSchema = z.strictObject({
  version: z.literal(PLAN_VERSION),
  site: siteSchema,
  locations: mapOf(locationSchema),
  profiles: mapOf(profileSchema),
  devices: mapOf(deviceSchema),
  ports: mapOf(portSchema),
  links: mapOf(linkSchema),
  segments: mapOf(segmentSchema),
  uplinks: mapOf(uplinkSchema),
  wirelessNetworks: mapOf(wirelessNetworkSchema),
  services: mapOf(serviceSchema),
  intents: mapOf(intentSchema),
  controller: controllerSchema,
})

export type SitePlan = z.infer<typeof planSchema>
export type Site = z.infer<typeof siteSchema>
export type Location = z.infer<typeof locationSchema>
export type Profile = z.infer<typeof profileSchema>
export type ProfilePort = z.infer<typeof profilePortSchema>
export type Light = z.infer<typeof lightSchema>
export type Device = z.infer<typeof deviceSchema>
export type Port = z.infer<typeof portSchema>
export type Link = z.infer<typeof linkSchema>
export type Segment = z.infer<typeof segmentSchema>
export type SegmentPurpose = Segment['purpose']
export type Uplink = z.infer<typeof uplinkSchema>
export type HandOff = z.infer<typeof handOffSchema>
export type WirelessNetwork = z.infer<typeof wirelessNetworkSchema>
export type Service = z.infer<typeof serviceSchema>
export type Intent = z.infer<typeof intentSchema>
export type Place = z.infer<typeof placeSchema>

/** The kinds of entity that live in maps by id. */
export const collections = ['locations', 'profiles', 'devices', 'ports', 'links', 'segments', 'uplinks', 'wirelessNetworks', 'services', 'intents'] as const
export type Collection = (typeof collections)[number]

/** The id of a device's port by its name on the housing. */
export const portIdOf = (deviceId: string, portName: string): string => `${deviceId}.${portName}`
