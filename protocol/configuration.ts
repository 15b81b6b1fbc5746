/**
 * The configuration documents that the controller gives to devices. Described for people in
 * docs/controller-protocol.md.
 */
import { z } from 'zod'

const vlan = z.int().min(1).max(4094)
const ipv4 = z.ipv4()
const withLength = z
  .string()
  .max(18)
  .regex(/^\d{1,3}(\.\d{1,3}){3}\/\d{1,2}$/)

const portMembership = z.strictObject({
  name: z.string().max(12),
  /** VLAN of frames without a tag; null drops them. */
  untagged: vlan.nullable(),
  tagged: z.array(vlan).max(128),
  /** VLANs in which what comes in here does not leave by another port that is isolated in them. */
  isolated: z.array(vlan).max(128),
  /** `parked` is switched off. */
  mode: z.enum(['access', 'trunk', 'parked']),
  /** What is at the other end. */
  description: z.string().max(160),
  /** Closes when another bridge speaks here. */
  edgeGuard: z.boolean(),
  /** Hosts are behind it, no bridge: it passes frames as soon as it has a signal. */
  edge: z.boolean().default(false),
  /** What servers of leases say is dropped where it comes in here. */
  leaseGuard: z.boolean(),
  /** What IPv6 routers say is dropped where it comes in here (RFC 6105). */
  routerGuard: z.boolean(),
  /** Broadcasts, of the speed of the socket, %; null is no limit. */
  stormPercent: z.number().min(0.01).max(100).nullable(),
})

const system = z.strictObject({
  /** A label (RFC 1123). */
  hostName: z.string().max(63),
  /** IANA name. */
  timeZone: z.string().max(64),
  timeServers: z.array(ipv4).max(4),
  banner: z.string().max(300),
  /** Where it sends its log (RFC 5424). */
  logTo: ipv4.nullable(),
  /** SNMPv3, authentication with SHA and privacy with AES (RFC 3414, RFC 3826). */
  monitoring: z
    .strictObject({
      user: z.string().max(32),
      authentication: z.string().max(200),
      privacy: z.string().max(200),
    })
    .nullable(),
  /**
   * One tree for all VLANs (IEEE 802.1Q 13); the lowest priority is the root. Null where it knows
   * none.
   */
  spanningTree: z
    .strictObject({ priority: z.int().min(0).max(61_440).multipleOf(4096) })
    .nullable()
    .default(null),
  /** Says who it is to its neighbours (LLDP, IEEE 802.1AB). */
  neighbours: z.boolean(),
  /** From where its page answers. */
  pageFrom: z.array(z.string().max(43)).max(64),
  /** Of its own pages; left out, it keeps what was typed into it. */
  administrator: z.strictObject({ password: z.string().min(1).max(200) }).optional(),
  /** Asks an address, and starts anew once so many in a row were not answered; left out, none. */
  watchdog: z
    .strictObject({
      address: ipv4,
      everySeconds: z.int().min(10).max(3600),
      failures: z.int().min(1).max(60),
    })
    .optional(),
})

const page = z.strictObject({
  /** VLAN that the device's own page lives in; null while it has none. */
  vlan: vlan.nullable(),
  mode: z.enum(['automatic', 'fixed']),
  address: withLength.nullable(),
  gateway: ipv4.nullable(),
})

const lease = z.strictObject({
  pools: z
    .array(z.strictObject({ first: ipv4, last: ipv4 }))
    .min(1)
    .max(8),
  leaseSeconds: z.int().min(120),
  reservations: z
    .array(z.strictObject({ hardwareAddress: z.string().max(17), address: ipv4 }))
    .max(1000),
  nameServers: z.array(ipv4).min(1).max(4),
  timeServers: z.array(ipv4).max(4),
  /** RFC 3442. */
  routes: z.array(z.strictObject({ to: withLength, via: ipv4 })).max(32),
  domain: z.string().max(200).nullable(),
  /** Sent as DHCP option 43, sub-option 1 (RFC 2132 8.4); null sends none. */
  controllerUrl: z.string().max(200).nullable(),
  /** Sent as DHCP option 143 (RFC 8572 8.1); left out, it sends none. */
  bootstrapUrl: z.string().max(300).optional(),
})

const port = z.int().min(1).max(65_535)
const listName = z.string().max(80)
/** Of either family. */
const anyPrefix = z
  .string()
  .max(43)
  .regex(/^[\da-f.:]+\/\d{1,3}$/)
/** The interface of a tunnel, by its id. */
const tunnelZone = z.templateLiteral(['tunnel:', z.string().max(64)])
/** `line` is the provider's line, a number is a VLAN. */
const zone = z.union([z.literal('line'), vlan, tunnelZone])
/**
 * Documents that were released before there were port forwards said only which rules leave them
 * out.
 */
const asNow = (rule: unknown): unknown => {
  if (typeof rule !== 'object' || rule === null || !('notForwarded' in rule)) return rule
  const { notForwarded, ...rest } = rule
  return { forwarded: notForwarded === true ? 'not' : 'too', ...rest }
}
export const ruleSchema = z.preprocess(
  asNow,
  z.strictObject({
    chain: z.enum(['input', 'forward']),
    from: z.union([z.literal('any'), z.array(zone)]),
    to: z.union([z.literal('any'), z.array(zone)]),
    family: z.enum(['any', 'ipv4', 'ipv6']),
    /** Names of `addressLists`; null is any address. */
    sources: listName.nullable(),
    destinations: listName.nullable(),
    /**
     * `icmp` is an echo request of either family; the others are kinds of ICMPv6 (RFC 4890 4.3.1,
     * 4.4.1).
     */
    protocol: z.enum([
      'any',
      'tcp',
      'udp',
      'icmp',
      'sctp',
      'gre',
      'esp',
      'ah',
      'ospf',
      'icmpv6-errors',
      'icmpv6-neighbours',
      'icmpv6-routers',
    ]),
    /** Both ends belong to a span; empty is all of them. */
    ports: z.array(z.strictObject({ first: port, last: port })).max(64),
    /** Empty is all of them. */
    states: z.array(z.enum(['established', 'related', 'invalid', 'new'])).max(4),
    /**
     * Connections whose destination a port forward put there: with the others, alone, or not at
     * all.
     */
    forwarded: z.enum(['too', 'only', 'not']),
    /**
     * When it stands, by the device's clock in its time zone: days on which it begins, 1 for
     * Monday; minutes after midnight, on the next day where the end is not after the beginning.
     * Null is always.
     */
    hours: z
      .strictObject({
        days: z.array(z.int().min(1).max(7)).min(1).max(7),
        fromMinute: z.int().min(0).max(1439),
        toMinute: z.int().min(0).max(1440),
      })
      .nullable()
      .default(null),
    verdict: z.enum(['accept', 'drop']),
  }),
)

/**
 * What arrives by a zone from elsewhere than `only`, or from `never`, is dropped before anything
 * else looks at it (RFC 2827, RFC 3704).
 */
const originSchema = z.strictObject({
  zone,
  only: z.array(anyPrefix).max(64).nullable(),
  never: z.array(anyPrefix).max(1024),
})

/** How a line is asked whether it leads anywhere. */
const watch = z.strictObject({
  tests: z
    .array(
      z.strictObject({
        kind: z.enum(['ping', 'tcp', 'dns', 'http']),
        /** An address or a name. */ target: z.string().max(253),
        port: port.nullable(),
      }),
    )
    .max(16),
  /** How many have to answer for a round to be good. */
  need: z.int().min(0).max(16),
  intervalSeconds: z.number().min(0.5).max(3600),
  answerSeconds: z.number().min(0.05).max(3600),
  /** Failed rounds in a row that take it out of use, good ones that bring it back. */
  failures: z.int().min(1).max(1000),
  successes: z.int().min(1).max(1000),
  /** A socket without a signal is dead at once, or counted like a test that failed. */
  linkLoss: z.enum(['at-once', 'counted']),
})

const line = z.strictObject({
  port: z.string(),
  vlan: vlan.nullable(),
  priority: z.int().min(0).max(7),
  mtu: z.int(),
  mode: z.enum(['automatic', 'fixed', 'pppoe']),
  user: z.string().max(200).nullable(),
  password: z.string().max(200).nullable(),
  address: withLength.nullable(),
  gateway: ipv4.nullable(),
  nameServers: z.array(ipv4),
  hardwareAddress: z.string().nullable(),
  /** Forced speed of the socket, Mbit/s; null lets both ends agree (IEEE 802.3 clause 28). */
  speedMbps: z.int().nullable(),
  /** Largest TCP segment in either direction, octets (RFC 4459 3.2); null leaves it. */
  segmentSize: z.strictObject({ ipv4: z.int(), ipv6: z.int() }).nullable(),
  /** Lines of one group share what leaves, by their weights; null is a group of its own. */
  group: z.int().min(0).max(15).nullable().default(null),
  weight: z.int().min(0).max(1000).default(1),
  /** Switched on when it is needed, or on all the time. */
  standby: z.enum(['hot', 'cold']).default('hot'),
  /** Null asks nothing: its signal and its address tell. */
  watch: watch.nullable().default(null),
  /** Whether what goes by it is looked into. */
  inspected: z.boolean().default(false),
})

/** What an end of IKEv2 says of itself and takes from the other (RFC 7296). */
const ike = z.strictObject({
  proposal: z.string().max(80),
  childProposal: z.string().max(80),
  localId: z.string().max(120),
  remoteId: z.string().max(120),
  lifetimeSeconds: z.int(),
  childLifetimeSeconds: z.int(),
  localSelectors: z.array(anyPrefix).max(64),
  remoteSelectors: z.array(anyPrefix).max(64),
})

/** A tunnel that ends on the gateway. */
const tunnel = z.strictObject({
  zone: tunnelZone,
  name: z.string(),
  protocol: z.enum(['wireguard', 'ikev2']),
  kind: z.enum(['people', 'sites', 'provider']),
  /** Its own address in it. */
  address: withLength.nullable(),
  listenPort: port.nullable(),
  mtu: z.int(),
  /** Base64 (RFC 7748); null where it is made on the device. */
  privateKey: z.string().max(44).nullable(),
  peers: z
    .array(
      z.strictObject({
        name: z.string(),
        /** Empty of IKEv2, where identities stand for keys. */
        publicKey: z.string().max(44),
        sharedKey: z.string().max(256).nullable(),
        /** What may come from it, and what is sent to it. */
        allowed: z.array(anyPrefix).max(128),
        endpoint: z.strictObject({ host: z.string().max(253), port }).nullable(),
        keepaliveSeconds: z.int().min(0).max(65_535),
      }),
    )
    .max(2000),
  ike: ike.nullable().default(null),
  /** Of one to a provider: whose IPv4 goes through it. */
  through: z.array(anyPrefix).max(256),
  whenDown: z.enum(['blocked', 'direct']),
})

/** A network that lies behind a host, as behind a tunnel that ends on it. */
const route = z.strictObject({ to: withLength, via: ipv4 })

/**
 * A name that is to follow the address of the line: told to the server of its zone (RFC 2136), or by
 * the call of a web address, which sees from where it is called.
 */
const dynamicName = z.strictObject({
  name: z.string().max(253),
  how: z.enum(['update', 'web']),
  server: z.string().max(253),
  ttlSeconds: z.int().min(1).max(604_800),
  /** What lets it be changed: a key (RFC 8945), or a word; null where nothing is asked. */
  key: z.string().max(200).nullable(),
})

export const gatewayConfigurationSchema = z.strictObject({
  kind: z.literal('gateway'),
  name: z.string(),
  system,
  segments: z.array(
    z.strictObject({
      vlan,
      name: z.string(),
      address: withLength,
      dhcp: lease.nullable(),
      /** Where requests are passed on to instead (RFC 1542). */ relayTo: ipv4.nullable(),
    }),
  ),
  ports: z.array(portMembership),
  /** In the order in which they are used. */
  lines: z.array(line).max(16),
  failover: z
    .strictObject({
      /** When a line that works again is used again. */
      back: z.discriminatedUnion('kind', [
        z.strictObject({ kind: z.literal('at-once') }),
        z.strictObject({ kind: z.literal('after-quiet'), seconds: z.number() }),
        z.strictObject({ kind: z.literal('by-hand') }),
      ]),
      /** Between knowing and sending by the other line. */
      switchSeconds: z.number().min(0).max(600),
    })
    .default({ back: { kind: 'at-once' }, switchSeconds: 0 }),
  /**
   * Who leaves by which lines, by their sockets: the first that fits decides, and its first line
   * that leads anywhere is used. What none speaks of uses all lines in their order.
   */
  choices: z
    .array(
      z.strictObject({
        from: z.union([z.literal('any'), vlan]),
        protocol: z.enum(['any', 'tcp', 'udp', 'icmp', 'sctp', 'gre', 'esp', 'ah', 'ospf']),
        ports: z.array(z.strictObject({ first: port, last: port })).max(64),
        lines: z.array(z.string().max(12)).max(16),
      }),
    )
    .max(200)
    .default([]),
  /** Who may send from where; asked before the rules. */
  origins: z.array(originSchema),
  addressLists: z.record(listName, z.array(anyPrefix).max(1024)),
  /** In order: the first that matches decides. */
  rules: z.array(ruleSchema),
  /**
   * Ports of the line's address that lead to a host inside, asked from outside or inside; who asks
   * from the host's own segment is given the gateway's address on the way.
   */
  forwards: z
    .array(
      z.strictObject({
        protocol: z.enum(['tcp', 'udp']),
        outside: z.strictObject({ first: port, last: port }),
        /** The first leads to this port, the others follow. */ inside: port,
        address: ipv4,
      }),
    )
    .max(200)
    .default([]),
  /** VLANs and tunnels whose IPv4 leaves the line with the gateway's own address. */
  masquerade: z.array(z.union([vlan, tunnelZone])),
  tunnels: z.array(tunnel).max(100).default([]),
  routes: z.array(route).max(256).default([]),
  dynamicNames: z.array(dynamicName).max(100).default([]),
  names: z.array(z.strictObject({ name: z.string().max(253), address: ipv4 })),
  controllerUrl: z.string().nullable(),
})

export const switchConfigurationSchema = z.strictObject({
  kind: z.literal('switch'),
  name: z.string(),
  system,
  page,
  ports: z.array(portMembership),
  controllerUrl: z.string().nullable(),
})

const bandName = z.enum(['2.4', '5', '6'])
const minuteOfDay = z.int().min(0).max(1439)

export const accessPointConfigurationSchema = z.strictObject({
  kind: z.literal('access-point'),
  name: z.string(),
  system,
  page,
  ports: z.array(portMembership),
  /** ISO 3166-1 alpha-2; what is allowed follows from it. */
  country: z.string().default(''),
  radios: z
    .array(
      z.strictObject({
        isOn: z.boolean(),
        band: bandName,
        /** null: the one that it hears least on. */
        channel: z.int().nullable(),
        widthMhz: z.int(),
        /** At its antenna socket; null is all that the country allows. */
        powerDbm: z.number().nullable(),
      }),
    )
    .max(4)
    .default([]),
  /** Its lamps are off between these. */
  dark: z.strictObject({ fromMinute: minuteOfDay, toMinute: minuteOfDay }).nullable().default(null),
  /** When it restarts: on one day (0 is Monday), or on each. */
  restart: z
    .strictObject({ day: z.int().min(0).max(6).nullable(), minute: minuteOfDay })
    .nullable()
    .default(null),
  networks: z.array(
    z.strictObject({
      name: z.string(),
      security: z.enum(['wpa3', 'wpa2-wpa3', 'wpa2', 'wpa-wpa2', 'wep', 'open']),
      key: z.string().nullable(),
      vlan,
      clientIsolation: z.boolean(),
      bands: z.array(bandName).default(['2.4', '5', '6']),
      isHidden: z.boolean().default(false),
      joinsByButton: z.boolean().default(false),
      /** Hardware addresses; with none, everybody who has the key. */
      allowed: z.array(z.string()).default([]),
      /** Who is heard weaker is not let in, dBm. */
      leastDbm: z.number().nullable().default(null),
      /** Whom it hears well enough higher up it does not answer in 2.4 GHz. */
      leadsUp: z.boolean().default(false),
      /** As well as that, dBm. */
      leadsUpDbm: z.number().default(-70),
      /** The page that whoever joins sees first. */
      portal: z
        .strictObject({
          password: z.string().nullable(),
          sessionMinutes: z.int(),
          before: z.array(z.string()),
          title: z.string(),
          text: z.string(),
          colour: z.string(),
        })
        .nullable()
        .default(null),
    }),
  ),
  controllerUrl: z.string().nullable(),
})

export const bridgeRadioConfigurationSchema = z.strictObject({
  kind: z.literal('bridge-radio'),
  name: z.string(),
  system,
  /** It passes all frames as they are; a null VLAN is that of frames without a tag. */
  page,
  /** Empty: no socket of it knows VLANs. */
  ports: z.array(portMembership).max(0),
  /** Each of its paths through the air, by the socket that stands for it. */
  paths: z
    .array(
      z.strictObject({
        port: z.string().max(12),
        role: z.enum(['main', 'far']).nullable(),
        /** By its number in the device's own list; null until it is planned. */
        channel: z.int().min(1).max(9999).nullable(),
        widthMhz: z.number(),
        /** At its antenna socket; null is all that the country allows. */
        powerDbm: z.number().nullable(),
        key: z.string().nullable(),
        /** As the device counts it; null where it measures by itself. */
        distance: z.number().nullable(),
      }),
    )
    .max(16),
  /** ISO 3166-1 alpha-2. */
  country: z.string(),
  controllerUrl: z.string().nullable(),
})

/** Documents that were released before there could be several lines have one, or none. */
const inThePlural = (document: unknown): unknown => {
  if (typeof document !== 'object' || document === null || !('line' in document)) return document
  const { line: only, ...rest } = document
  return { ...rest, lines: only === null ? [] : [only] }
}

export const configurationSchema = z.preprocess(
  inThePlural,
  z.discriminatedUnion('kind', [
    gatewayConfigurationSchema,
    switchConfigurationSchema,
    accessPointConfigurationSchema,
    bridgeRadioConfigurationSchema,
  ]),
)
export type Configuration = z.infer<typeof configurationSchema>
export type GatewayConfiguration = z.infer<typeof gatewayConfigurationSchema>
export type SwitchConfiguration = z.infer<typeof switchConfigurationSchema>
export type AccessPointConfiguration = z.infer<typeof accessPointConfigurationSchema>
export type BridgeRadioConfiguration = z.infer<typeof bridgeRadioConfigurationSchema>
