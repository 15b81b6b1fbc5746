/** What the server may ask of the stand-ins, and what they answer. */
import { planSchema, lightSchema } from '@mast/core/plan'
import { observationSchema, probeSchema } from '@mast/protocol'
import { z } from 'zod'
import { faultSchema } from '../faults'

export { faultKey, faultSchema, faultsOffered, type Fault } from '../faults'

const id = z.string().max(64)

export const worldSchema = z.strictObject({
  plan: planSchema,
  /** Keys that people type into their devices, by wireless network id. */
  keys: z.record(z.string(), z.string().max(63)),
  /** Files of tunnels as text: by peer, and by tunnel for one that ends on a host. */
  tunnelFiles: z.record(z.string(), z.string().max(20_000)).optional(),
  /** Passwords of pages for guests, by wireless network id. */
  pagePasswords: z.record(z.string(), z.string().max(200)).optional(),
  /** What the providers issued, by line. */
  linePasswords: z.record(z.string(), z.string().max(200)).default({}),
  seed: z.int().min(0),
  /** When its time began, s since 1970 (UTC). */
  epochSeconds: z.int().min(0).max(32_503_680_000).optional(),
  /** Of the plan and of the keys; an older description than the one that stands is not taken. */
  revision: z.int().min(0).default(0),
  keysVersion: z.int().min(0).default(0),
  /** What was last released to the devices; 0 before the first. */
  release: z.int().min(0).default(0),
})
export type WorldDescription = z.infer<typeof worldSchema>

export const handSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('power'), deviceIds: z.array(id).max(2000), on: z.boolean() }),
  z.strictObject({
    kind: z.literal('laptop'),
    plugInto: id.nullable(),
    address: z.string().max(18).nullable(),
  }),
  z.strictObject({
    kind: z.literal('page'),
    deviceId: id,
    address: z.ipv4(),
    act: z.enum(['password', 'firmware', 'configuration']),
    configuration: z.unknown().optional(),
  }),
  z.strictObject({ kind: z.literal('plug'), deviceIds: z.array(id).max(2000) }),
  z.strictObject({ kind: z.literal('plug-line'), lineId: id }),
  /** Turns an antenna, degrees off the straight line to the other end. */
  z.strictObject({
    kind: z.literal('turn'),
    deviceId: id,
    across: z.number().min(-180).max(180),
    up: z.number().min(-90).max(90),
  }),
  /** Says on the gateway's page that the line which was left is used again. */
  z.strictObject({ kind: z.literal('use-again') }),
  z.strictObject({ kind: z.literal('reset'), deviceIds: z.array(id).max(2000) }),
])
export type Hand = z.infer<typeof handSchema>
export const handReplySchema = z.strictObject({
  ok: z.boolean(),
  text: z.string(),
  /** Of a turned antenna, by bridge: what its unit reads. */
  readings: z
    .array(z.strictObject({ bridgeId: id, dbm: z.number().nullable(), why: z.string() }))
    .optional(),
})
export type HandReply = z.infer<typeof handReplySchema>

/** A failover that is to be tried, and what came of it; times in s. */
export const drillAskedSchema = z.strictObject({
  lineId: id,
  /** Lines that are taken away before, and given back at the end. */
  away: z.array(id).max(16),
  kind: z.enum(['cable', 'modem', 'path']),
  outageSeconds: z.number().min(1).max(7200),
  /** How long its return is waited for. */
  returnSeconds: z.number().min(0).max(14_400),
  asks: z
    .array(
      z.strictObject({
        segmentId: id,
        serviceId: id.nullable(),
        hostId: id,
        protocol: z.enum(['icmp', 'tcp', 'udp']),
        port: z.int().min(1).max(65_535).nullable(),
      }),
    )
    .max(500),
})
export type DrillAsked = z.infer<typeof drillAskedSchema>
export const drillSeenSchema = z.strictObject({
  ok: z.boolean(),
  text: z.string(),
  overSeconds: z.number().nullable(),
  backSeconds: z.number().nullable(),
  segments: z.array(
    z.strictObject({ segmentId: id, serviceId: id.nullable(), seconds: z.number().nullable() }),
  ),
})
export type DrillSeen = z.infer<typeof drillSeenSchema>

/** The maker of the stand-ins is asked to vouch for an owner. */
export const vouchersAskedSchema = z.strictObject({
  owner: z.base64().max(8000),
  serials: z.array(z.string().min(1).max(64)).max(5000),
})
export const vouchersSchema = z.strictObject({ maker: z.string(), vouchers: z.array(z.string()) })

export const clockSchema = z.strictObject({ speed: z.number().min(1).max(1000) })
/** Of one request; a larger proof comes in several. */
export const MOST_PROBES = 5000
export const probesSchema = z.strictObject({ probes: z.array(probeSchema).max(MOST_PROBES) })
export const worldsSchema = z.strictObject({ sites: z.array(z.string().max(64)) })
export const observationsSchema = z.strictObject({ observations: z.array(observationSchema) })

export const snapshotSchema = z.strictObject({
  revision: z.number(),
  keysVersion: z.number(),
  release: z.number(),
  speed: z.number(),
  seconds: z.number(),
  frames: z.number(),
  devices: z.array(
    z.strictObject({
      id,
      powered: z.boolean(),
      placed: z.boolean(),
      light: lightSchema.shape.state.nullable(),
      address: z.string().nullable(),
      serial: z.string().nullable(),
    }),
  ),
  /** Why they stand still, where something in them went wrong; null while they run. */
  stopped: z.string().nullable().default(null),
  /** Bridges: what both ends read, dBm, and what passes on the air, Mbit/s. */
  bridges: z
    .array(
      z.strictObject({
        id,
        atA: z.number().nullable(),
        atB: z.number().nullable(),
        toB: z.number().nullable(),
        toA: z.number().nullable(),
        isUp: z.boolean(),
        why: z.string(),
        shows: z.strictObject({ a: z.string().nullable(), b: z.string().nullable() }),
      }),
    )
    .default([]),
  lines: z.array(z.strictObject({ id, plugged: z.boolean(), up: z.boolean() })),
  laptop: z.strictObject({ pluggedInto: id.nullable(), address: z.string().nullable() }),
  faults: z.array(faultSchema),
})
export type Snapshot = z.infer<typeof snapshotSchema>
