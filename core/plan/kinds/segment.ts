/** Segments: a VLAN, its addresses, its leases. */
import { z } from 'zod'
import { defineKind } from './kind'
import {
  idSchema,
  ipv4Schema,
  nameSchema,
  spanSchema,
  subnet6Schema,
  subnetSchema,
  vlanIdSchema,
} from '../values'

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
  name: nameSchema,
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

export type Segment = z.infer<typeof segmentSchema>
export type SegmentPurpose = Segment['purpose']
export type Churn = z.infer<typeof churnSchema>

export const segments = defineKind({
  collection: 'segments',
  noun: 'Segment',
  word: 'segment',
  plural: 'segments',
  schema: segmentSchema,
  most: 500,
  blank: {
    growthPercent: 50,
    subnet: null,
    gateway: null,
    fixedBlock: null,
    pools: [],
    leaseSeconds: 86_400,
    subnet6: null,
    locked: false,
    alignLength: null,
    dhcp: { mode: 'server', relayTo: null },
    options: { nameServers: [], timeServers: [], routes: [] },
    churn: null,
  },
  together: {
    subnet: 'addresses',
    gateway: 'addresses',
    fixedBlock: 'addresses',
    pools: 'addresses',
  },
  apart: ['options'],
  fieldWords: {
    vlanId: 'VLAN',
    expectedHosts: 'expected hosts',
    growthPercent: 'growth, %',
    fixedBlock: 'fixed block',
    leaseSeconds: 'lease, s',
    subnet6: 'IPv6 subnet',
    alignLength: 'aligned to',
    relayTo: 'relayed to',
    timeServers: 'time servers',
    nameServers: 'name servers',
    churn: 'coming and going',
    arrivalsPerHour: 'arrivals an hour',
    heldMinutes: 'stay, min',
    fromHour: 'from, h',
    toHour: 'to, h',
    dhcp: 'DHCP',
    pools: 'pools',
  },
  check(s, _, say) {
    if (s.id === 'internet')
      say([], 'a segment cannot have the id internet, which is a place of its own')
    if (s.dhcp.mode === 'relay' && s.dhcp.relayTo === null)
      say(['dhcp', 'relayTo'], 'a relay needs the address of the server')
  },
  // Subnets are planned anew, so that a tunnel between the two sites does not find the same numbers at both ends.
  inAnotherSite: (s) => ({
    ...s,
    subnet: null,
    gateway: null,
    fixedBlock: null,
    pools: [],
    subnet6: null,
    locked: false,
    options: { nameServers: [], timeServers: [], routes: [] },
    dhcp: s.dhcp.mode === 'relay' ? { mode: 'server' as const, relayTo: null } : s.dhcp,
  }),
})
