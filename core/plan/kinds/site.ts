/** The site itself: where it is, what it prefers. */
import { z } from 'zod'
import { defineSingle } from './kind'
import {
  domainSchema,
  idSchema,
  ipv4Schema,
  nameSchema,
  subnet6Schema,
  subnetSchema,
} from '../values'

const minuteSchema = z.int().min(0).max(1439)

export const siteSchema = z.strictObject({
  name: nameSchema,
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
    /** Controller keeps what each device runs, when it changes and every so many days; null never. */
    backupEveryDays: z.int().min(1).max(365).nullable(),
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
  /** Going from one line to another, and back. */
  failover: z.strictObject({
    /** When a line that works again is used again; null while nobody said. */
    back: z
      .discriminatedUnion('kind', [
        z.strictObject({ kind: z.literal('at-once') }),
        z.strictObject({
          kind: z.literal('after-quiet'),
          /** Good all the while. */ seconds: z.number().min(1).max(604_800),
        }),
        z.strictObject({
          kind: z.literal('by-hand'),
          /** Who does it; empty while nobody does. */ owner: z.string().trim().max(80),
        }),
      ])
      .nullable(),
    /** Until the gateway sends by the other line, once it has noticed. */
    switchSeconds: z.number().min(0).max(600),
    /** The outage that the site can live with; null while nobody asked. */
    toleratedSeconds: z.number().positive().max(604_800).nullable(),
    /** How often a year it may go over for nothing; null while nobody asked. */
    falseSwitchesAYear: z.number().positive().max(100_000).nullable(),
  }),
  /** What all radios have in common. */
  wireless: z.strictObject({
    /** As planned; planned anew at night; or each device for itself. */
    channels: z.enum(['planned', 'nightly', 'each']),
    /** When it is planned anew, minutes of the day. */
    replanMinute: minuteSchema,
    /** Channels on which radios listen for radar first. */
    usesRadar: z.boolean(),
    /** `low`: cells meet and no more; `full`: all that is allowed. */
    power: z.enum(['low', 'full']),
    /** How an extender is placed: by a scan and once more at its outlet, or once at half the signal. */
    extenders: z.enum(['two-stage', 'half']),
    /** Lamps of access points are off between these, minutes of the day. */
    dark: z.strictObject({ fromMinute: minuteSchema, toMinute: minuteSchema }).nullable(),
    /** Access points restart, at the minute of the day, on one day (0 is Monday) or on all. */
    restart: z
      .strictObject({ day: z.int().min(0).max(6).nullable(), minute: minuteSchema })
      .nullable(),
  }),
  /** Added to every run of cable, and kept as whole spare leads. */
  cabling: z.strictObject({
    slackPercent: z.number().min(0).max(100),
    spareLeads: z.int().min(0).max(1000),
  }),
})

/** Of a site that nobody was asked about it. */
export const plainFailover: z.infer<typeof siteSchema>['failover'] = {
  back: null,
  switchSeconds: 1,
  toleratedSeconds: null,
  falseSwitchesAYear: null,
}
/** Of a site that nobody was asked about it. */
export const plainWireless: z.infer<typeof siteSchema>['wireless'] = {
  channels: 'planned',
  replanMinute: 180,
  usesRadar: true,
  power: 'low',
  extenders: 'two-stage',
  dark: null,
  restart: null,
}
export const site = defineSingle({
  top: 'site',
  schema: siteSchema,
  apart: ['preferences', 'failover', 'wireless'],
  fieldWords: {
    addressSpace: 'address space',
    timeZone: 'time zone',
    betweenSegments: 'between segments',
    gatewayPosition: 'gateway position',
    vlanNumbering: 'VLAN numbering',
    addressSpace6: 'IPv6 space',
    vlanOne: 'VLAN 1',
    infrastructure: 'addresses of infrastructure',
    growthYears: 'growth over, years',
    electricity: 'electricity',
    pricePerKwh: 'price per kWh',
    failover: 'failover',
    back: 'return',
    switchSeconds: 'switching, s',
    toleratedSeconds: 'tolerated outage, s',
    falseSwitchesAYear: 'false switches a year',
    wireless: 'wireless',
    channels: 'channels',
    replanMinute: 'planned anew at',
    usesRadar: 'channels shared with radar',
    power: 'power of radios',
    extenders: 'placing of extenders',
    dark: 'lamps off',
    restart: 'restart',
    cabling: 'cabling',
    slackPercent: 'slack, %',
    spareLeads: 'spare leads',
  },
  references: [{ at: 'preferences.spanningTreeRootId', to: ['devices'], whenGone: 'clear' }],
})
