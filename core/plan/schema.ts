/**
 * The site plan: one JSON document that holds what is intended, never results and never secrets.
 * Entities live in maps
 * by id; references between them are ids. `references.ts` checks what a schema cannot.
 */
import { z } from 'zod'
import { parseAddress } from '../addressing/address'
import { formatPrefix, readPrefix } from '../addressing/prefix'

/** The version of this document format. Older documents are brought up by `migrate.ts`. */
export const PLAN_VERSION = 5

export const MAX_TEXT = 200
/**
 * No id is a name that objects have without being given it; of those, `constructor` alone looks
 * like an id.
 */
const idPattern = /^(?!constructor$)[a-z][a-z0-9]*([-._][a-z0-9]+)*$/
export const idSchema = z
  .string()
  .max(64)
  .regex(
    idPattern,
    'an id is lower-case letters, digits, dots and hyphens, and not the word constructor',
  )
const name = z.string().trim().min(1, 'a name is needed').max(80)
const text = z.string().max(MAX_TEXT)

export const ipv4Schema = z
  .string()
  .max(15)
  .refine(
    (t) => parseAddress(t)?.family === 4,
    'not an IPv4 address; expected for example 10.20.30.1',
  )
export const subnetSchema = z
  .string()
  .max(18)
  .superRefine((value, ctx) => {
    const read = readPrefix(value)
    if (!('problem' in read)) {
      if (read.family !== 4)
        ctx.addIssue({
          code: 'custom',
          message: 'not an IPv4 subnet; expected for example 10.20.30.0/24',
        })
      return
    }
    const message =
      read.problem === 'host bits set' && read.network
        ? `host bits are set; the subnet is ${formatPrefix(read.network)}`
        : `${read.problem}; expected for example 10.20.30.0/24`
    ctx.addIssue({ code: 'custom', message })
  })
export const subnet6Schema = z
  .string()
  .max(43)
  .superRefine((value, ctx) => {
    const read = readPrefix(value)
    if (!('problem' in read)) {
      if (read.family !== 6)
        ctx.addIssue({
          code: 'custom',
          message: 'not an IPv6 prefix; expected for example 2001:db8:20::/56',
        })
      return
    }
    const message =
      read.problem === 'host bits set' && read.network
        ? `host bits are set; the prefix is ${formatPrefix(read.network)}`
        : `${read.problem}; expected for example 2001:db8:20::/56`
    ctx.addIssue({ code: 'custom', message })
  })
export const hardwareAddressSchema = z
  .string()
  .regex(
    /^([0-9a-f]{2}:){5}[0-9a-f]{2}$/,
    'not a hardware address; expected for example 02:00:5e:10:00:01',
  )
export const serialSchema = z
  .string()
  .regex(/^[A-Z0-9][A-Z0-9-]{2,31}$/, 'a serial is 3 to 32 capital letters, digits and hyphens')
export const vlanIdSchema = z
  .int('a VLAN id is a whole number')
  .min(1, 'VLAN ids run from 1 (IEEE 802.1Q)')
  .max(4094, 'VLAN ids end at 4094 (IEEE 802.1Q)')
export const spanSchema = z.strictObject({ first: ipv4Schema, last: ipv4Schema })
/** Names of hosts (RFC 1123 2.1): letters, digits and hyphens between dots. */
export const domainSchema = z
  .string()
  .max(200)
  .regex(
    /^(?!-)[a-z0-9-]{1,63}(?<!-)(\.(?!-)[a-z0-9-]{1,63}(?<!-))*$/,
    'a domain is lower-case letters, digits and hyphens between dots, for example harbour.internal',
  )

export const siteSchema = z.strictObject({
  name,
  /** ISO 3166-1 alpha-2. */
  country: z.string().regex(/^[A-Z]{2}$/, 'a country is two capital letters, for example GB'),
  timeZone: z.string().min(1).max(64),
  units: z.enum(['metric', 'imperial']),
  /** The space that segments are allocated from. */
  addressSpace: z.array(subnetSchema).min(1).max(8),
  /**
   * IPv6 space: what the provider delegates, or a unique local prefix. Segments take /64s of it.
   */
  addressSpace6: z.array(subnet6Schema).max(4),
  /** Domain of the names inside, for example harbour.internal; null where hosts have no names. */
  domain: domainSchema.nullable(),
  preferences: z.strictObject({
    vlanNumbering: z.enum(['third-octet', 'free']),
    gatewayPosition: z.enum(['first', 'last']),
    /** Whether clients may live in VLAN 1, where everything lands that nobody configured. */
    vlanOne: z.enum(['empty', 'used']),
    /** How the infrastructure gets its addresses unless a device says otherwise. */
    infrastructure: z.enum(['reserved', 'fixed']),
    /** What happens between two segments where no intent speaks. */
    betweenSegments: z.enum(['deny', 'allow']),
    /** Over how many years the growth of the segments is meant. */
    growthYears: z.int().min(1).max(20),
    /**
     * The bridge that is to be the root of the spanning tree; null is the one nearest to the
     * gateway.
     */
    spanningTreeRootId: idSchema.nullable(),
  }),
  /** What energy costs, per kWh; null while nobody asked. */
  electricity: z
    .strictObject({
      pricePerKwh: z.number().min(0).max(100),
      currency: z
        .string()
        .regex(/^[A-Z]{3}$/, 'a currency is three capital letters (ISO 4217), for example GBP'),
    })
    .nullable(),
  /** How devices are looked after from elsewhere. */
  management: z.strictObject({
    /** Shown to whoever opens a device's page, before the password. */
    banner: z.string().max(300),
    /** Where devices send what they log (RFC 5424). */
    logTo: ipv4Schema.nullable(),
    /**
     * SNMPv3 with authentication and privacy (RFC 3414, RFC 3826); the two passwords are in the
     * vault.
     */
    monitoring: z
      .strictObject({
        user: z
          .string()
          .regex(/^[\w.-]{1,32}$/, 'a user is 1 to 32 letters, digits, dots, hyphens'),
        authenticationRef: z.string().max(64),
        privacyRef: z.string().max(64),
      })
      .nullable(),
  }),
  /** Added to every run of cable, and kept as whole spare leads. */
  cabling: z.strictObject({
    slackPercent: z.number().min(0).max(100),
    spareLeads: z.int().min(0).max(1000),
  }),
})

export const clientKinds = [
  'phone',
  'laptop',
  'tablet',
  'desktop',
  'till',
  'card-terminal',
  'camera',
  'handset',
  'sensor',
  'other',
] as const
export const locationSchema = z.strictObject({
  id: idSchema,
  name,
  kind: z.enum(['building', 'floor', 'cupboard', 'outdoors', 'kiosk', 'mast', 'roof']),
  /** Whether mains is within reach of a power lead. */
  mains: z.boolean(),
  /** Free outlets; null while nobody counted them. */
  outlets: z.int().min(0).max(1000).nullable(),
  /** From where the equipment stands to the outlet, m; null where it was not measured. */
  outletDistanceM: z.number().min(0).max(1000).nullable(),
  /** WGS 84, degrees. */
  latitude: z.number().min(-90).max(90).nullable(),
  longitude: z.number().min(-180).max(180).nullable(),
  /** Of the place of the equipment above ground, m. */
  heightM: z.number().min(-100).max(1000).nullable(),
  /** Heads at the busiest time. */
  people: z.int().min(0).max(100_000),
  clients: z
    .array(z.strictObject({ kind: z.enum(clientKinds), count: z.int().min(1).max(100_000) }))
    .max(12),
})

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
  rhythm: z.enum(['steady', 'slow', 'double', 'fast', 'none']),
  state: z.enum([
    'off',
    'starting',
    'seeking-address',
    'seeking-controller',
    'awaiting-claim',
    'loading',
    'in-service',
    'fault',
  ]),
  meaning: text,
})

/** As on the housing. */
const portNameSchema = z.string().regex(/^(?!constructor$)[a-z0-9]{1,12}$/)
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
  name,
  kind: z.enum(['licence', 'registration', 'account']),
  unlocks: text,
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

export const profileSchema = z.strictObject({
  id: idSchema,
  name,
  kind: z.enum(deviceKinds),
  ports: z.array(profilePortSchema).min(1).max(96),
  radios: z.int().min(0).max(4),
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
    address: z
      .string()
      .regex(/^[\d.]+\/\d+$/)
      .nullable(),
    /** `server` hands out leases on its LAN when new, `client` asks for one. */
    dhcp: z.enum(['server', 'client', 'none']),
    account: text.nullable(),
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
})

export const deviceSchema = z.strictObject({
  id: idSchema,
  name,
  profileId: idSchema,
  locationId: idSchema.nullable(),
  serial: serialSchema.nullable(),
  hardwareAddress: hardwareAddressSchema.nullable(),
  /** Firmware read off the device before anything was done to it. */
  firmware: z.string().max(20).nullable(),
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
})

export const portSchema = z.strictObject({
  id: idSchema,
  deviceId: idSchema,
  name: portNameSchema,
  /** Segment whose frames travel without a tag here, both ways. */
  untaggedSegmentId: idSchema.nullable(),
  taggedSegmentIds: z.array(idSchema).max(128),
})

export const linkSchema = z.strictObject({
  id: idSchema,
  a: idSchema,
  b: idSchema,
  medium: z.enum(['copper', 'fibre', 'radio']),
  /** Of the cable, or of the path through the air. */
  lengthM: z.number().min(0.1, 'a cable has a length').max(200_000),
})

export const segmentPurposes = [
  'management',
  'staff',
  'servers',
  'payments',
  'cameras',
  'voice',
  'instruments',
  'guests',
] as const
export const churnSchema = z.strictObject({
  /** In the busy hours. */
  arrivalsPerHour: z.number().min(0).max(1_000_000),
  /** How long one stays, min. */
  heldMinutes: z.number().positive().max(44_640),
  /** Hours of the day between which they arrive; 0 and 24 for all day. */
  fromHour: z.int().min(0).max(23),
  toHour: z.int().min(1).max(24),
})
export const segmentSchema = z.strictObject({
  id: idSchema,
  name,
  purpose: z.enum(segmentPurposes),
  vlanId: vlanIdSchema,
  expectedHosts: z.int().min(1).max(65_000),
  growthPercent: z.number().min(0).max(1000),
  subnet: subnetSchema.nullable(),
  gateway: ipv4Schema.nullable(),
  fixedBlock: spanSchema.nullable(),
  /** What leases come from, in the order in which they are handed out. */
  pools: z.array(spanSchema).max(8),
  leaseSeconds: z.int().min(120).max(31_536_000),
  /** A /64; null where the segment has no IPv6. */
  subnet6: subnet6Schema
    .refine((t) => t.endsWith('/64'), 'hosts configure themselves only in a /64 (RFC 4862 5.5.3)')
    .nullable(),
  /** Planning anew leaves it where it is. */
  locked: z.boolean(),
  /** The network address is a multiple of this prefix length's size; null for its own size. */
  alignLength: z.int().min(8).max(30).nullable(),
  dhcp: z.strictObject({
    mode: z.enum(['server', 'relay', 'off']),
    /** The server elsewhere. */ relayTo: ipv4Schema.nullable(),
  }),
  /** What leases tell beside the address. Empty name servers: the gateway itself. */
  options: z.strictObject({
    nameServers: z.array(ipv4Schema).max(4),
    timeServers: z.array(ipv4Schema).max(4),
    /** RFC 3442. */
    routes: z.array(z.strictObject({ to: subnetSchema, via: ipv4Schema })).max(32),
  }),
  /** How clients come and go; null where they stay. */
  churn: churnSchema.nullable(),
})

export const handOffSchema = z.strictObject({
  /** null is always "not known yet"; what is known to be absent has a word of its own. */
  mode: z.enum(['automatic', 'fixed', 'pppoe', 'cellular']).nullable(),
  /**
   * Name of the account of a PPPoE line; its password is in the vault under `line-` and the id of
   * the line.
   */
  pppoeUser: text.nullable(),
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
  address: z
    .string()
    .regex(/^[\d.]+\/\d+$/, 'expected an address with its length, for example 203.0.113.10/29')
    .refine(
      (t) => parseAddress(t.split('/')[0]!)?.family === 4 && Number(t.split('/')[1]) <= 32,
      'not an IPv4 address with a length',
    )
    .nullable(),
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
/** `rank` 0 is the line that is used first. */
export const uplinkSchema = z.strictObject({
  id: idSchema,
  name,
  rank: z.int().min(0).max(9),
  portId: idSchema.nullable(),
  handOff: handOffSchema,
})

/**
 * Networks that are there whatever is planned: what stays on the site, what a tunnel uses, what the
 * other end of a tunnel has.
 */
export const knownNetworkSchema = z.strictObject({
  id: idSchema,
  name,
  kind: z.enum(['stays', 'tunnel', 'joined']),
  prefix: z.union([subnetSchema, subnet6Schema]),
  note: text,
})

export const wirelessNetworkSchema = z.strictObject({
  id: idSchema,
  name: z
    .string()
    .min(1, 'a network name is needed')
    .refine(
      (t) => new TextEncoder().encode(t).length <= 32,
      'a network name is at most 32 octets (IEEE 802.11)',
    ),
  segmentId: idSchema,
  security: z.enum(['wpa3', 'wpa2-wpa3', 'wpa2', 'open']),
  /** Name of the key in the vault; the key itself is never in the plan. */
  keyRef: z.string().max(64).nullable(),
  clientIsolation: z.boolean(),
  accessPointIds: z.array(idSchema).max(256),
})

const portNumber = z
  .int('a port is a whole number')
  .min(1, 'ports run from 1 to 65535')
  .max(65_535, 'ports run from 1 to 65535')
/** Names of the IANA protocol numbers; `icmp` is an echo request over either family. */
export const serviceProtocols = ['tcp', 'udp', 'icmp', 'sctp', 'gre', 'esp', 'ah', 'ospf'] as const
export const serviceSchema = z.strictObject({
  id: idSchema,
  name,
  protocol: z.enum(serviceProtocols),
  /** Single ones, and spans whose ends belong to them. */
  ports: z
    .array(
      z.union([
        portNumber,
        z
          .strictObject({ first: portNumber, last: portNumber })
          .refine((s) => s.first < s.last, 'a span of ports ends after it begins'),
      ]),
    )
    .max(32),
})

/**
 * The network of the provider's own router on the line, which is not the internet. No id looks like
 * it.
 */
export const PROVIDER_LAN = '@line'
/** The gateway itself and the pages of all managed devices. */
export const MANAGED = '@devices'
/**
 * As a source every segment of the site, never the internet; as a target every segment, and the
 * internet.
 */
export const ANYWHERE = '@any'
/** The id of a segment, a device or a group, `internet`, or every segment. */
export const sourceSchema = z.union([z.literal('internet'), z.literal(ANYWHERE), idSchema])
/** Where a connection may lead: the provider's own network and the managed devices as well. */
export const placeSchema = z.union([z.literal(PROVIDER_LAN), z.literal(MANAGED), sourceSchema])

/** Hours of the week, in the site's time zone. */
export const hoursSchema = z
  .strictObject({
    /** On which it begins: 1 is Monday, 7 Sunday (ISO 8601). */
    days: z
      .array(z.int().min(1).max(7))
      .min(1, 'at least one day is needed')
      .max(7)
      .refine((d) => new Set(d).size === d.length, 'a day stands here twice'),
    /** Minutes after midnight. Ends on the next day where it is not after the beginning. */
    fromMinute: z.int().min(0).max(1439),
    toMinute: z.int().min(0).max(1440),
  })
  .refine((h) => h.fromMinute !== h.toMinute, 'hours end at another time than they begin')

/** Hosts and segments under one name. */
export const groupSchema = z.strictObject({
  id: idSchema,
  name,
  /** Ids of devices and segments. */ memberIds: z.array(idSchema).max(256),
})

export const intentSchema = z.strictObject({
  id: idSchema,
  from: sourceSchema,
  to: placeSchema,
  /** A service id, or `any`. */
  service: z.union([z.literal('any'), idSchema]),
  action: z.enum(['allow', 'deny']),
  /** Lower is looked at first. */
  rank: z.int().min(0).max(1_000_000),
  /** When it holds; null is always. */
  hours: hoursSchema.nullable(),
  reason: text,
})

/**
 * What the internet reaches by the address of the line, IPv4: some of its ports lead to a host
 * inside.
 */
export const forwardSchema = z.strictObject({
  id: idSchema,
  name,
  protocol: z.enum(['tcp', 'udp']),
  /** On the line, both ends belong to it. */
  outside: z
    .strictObject({ first: portNumber, last: portNumber })
    .refine((s) => s.first <= s.last, 'a span of ports ends after it begins'),
  deviceId: idSchema,
  /** Port of the host that the first one leads to; the others follow. */
  inside: portNumber,
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
  groups: mapOf(groupSchema),
  intents: mapOf(intentSchema),
  forwards: mapOf(forwardSchema),
  knownNetworks: mapOf(knownNetworkSchema),
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
export type Churn = z.infer<typeof churnSchema>
export type Licence = z.infer<typeof licenceSchema>
export type KnownNetwork = z.infer<typeof knownNetworkSchema>
export type Intent = z.infer<typeof intentSchema>
export type Place = z.infer<typeof placeSchema>
export type Hours = z.infer<typeof hoursSchema>
export type Group = z.infer<typeof groupSchema>
export type Forward = z.infer<typeof forwardSchema>

/** The kinds of entity that live in maps by id. */
export const collections = [
  'locations',
  'profiles',
  'devices',
  'ports',
  'links',
  'segments',
  'uplinks',
  'wirelessNetworks',
  'services',
  'groups',
  'intents',
  'forwards',
  'knownNetworks',
] as const
export type Collection = (typeof collections)[number]

/** The id of a device's port by its name on the housing. */
export const portIdOf = (deviceId: string, portName: string): string => `${deviceId}.${portName}`
