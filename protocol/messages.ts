/**
 * What devices and the controller say to each other under /controller/v1. Described in
 * docs/controller-protocol.md.
 */
import { z } from 'zod'
import { configurationSchema } from './configuration'

/** Largest request body that the controller reads, bytes. */
export const MAX_BODY_BYTES = 32 * 1024
/** Of what is sent without a token. */
export const MAX_OPEN_BODY_BYTES = 8 * 1024
/** Of a configuration that a device sends. */
export const MAX_RUNNING_BYTES = 2 * 1024 * 1024
/** Whole numbers are stored in 32 bits. */
const MAX_INT = 2 ** 31 - 1

const serial = z.string().regex(/^[A-Z0-9][A-Z0-9-]{2,31}$/)
const hardwareAddress = z.string().regex(/^([0-9a-f]{2}:){5}[0-9a-f]{2}$/)
const hex256 = z.string().regex(/^[0-9a-f]{64}$/)
const firmware = z.string().max(20)

export const helloSchema = z.strictObject({
  serial,
  hardwareAddress,
  model: z.string().max(64),
  firmware,
  address: z.ipv4(),
  /**
   * SHA-256 of the claim secret that the device made at its first start; the token goes only to who
   * knows the secret.
   */
  claimSecretDigest: hex256,
  factoryPassword: z.boolean(),
})
export type Hello = z.infer<typeof helloSchema>

export const helloReplySchema = z.strictObject({
  status: z.enum(['unclaimed', 'claimed']),
  retryAfterSeconds: z.int().min(1),
})
export type HelloReply = z.infer<typeof helloReplySchema>

export const tokenRequestSchema = z.strictObject({ serial, claimSecret: hex256 })
export const tokenReplySchema = z.strictObject({ token: z.string().min(32).max(128) })

export const desiredSchema = z.strictObject({
  digest: hex256,
  /** To be loaded before the configuration. */
  firmware: z.strictObject({ version: firmware, path: z.string().max(200), digest: hex256 }),
  configuration: configurationSchema,
  /**
   * `when-told`: it is kept aside, and a later report is answered with the moment at which it is to
   * be loaded.
   */
  apply: z.enum(['at-once', 'when-told']),
  /**
   * How long it is tried, s: who is not told to keep it by then goes back to the configuration
   * before. Null where there was none before.
   */
  trialSeconds: z.int().min(60).max(86_400).nullable(),
})
export type Desired = z.infer<typeof desiredSchema>

export const portStateSchema = z.strictObject({
  name: z.string().max(12),
  up: z.boolean(),
  /** What it came up at; null without a signal, and where it does not say. */
  speedMbps: z.int().min(0).max(1_000_000).nullable().default(null),
  /** Hardware addresses heard behind it, newest first. */
  heard: z.array(hardwareAddress).max(64),
})

const lineStateSchema = z.strictObject({
  /** The socket that it goes into. */
  port: z.string().max(12),
  up: z.boolean(),
  address: z.ipv4().nullable(),
  /** Of a line that signs in by PPPoE: what the provider said. */
  signIn: z.enum(['unanswered', 'refused', 'accepted']).nullable().default(null),
  /** Whether its tests say that it leads anywhere; null of one that is not tested. */
  alive: z.boolean().nullable().default(null),
})
export type LineState = z.infer<typeof lineStateSchema>

const pathStateSchema = z.strictObject({
  /** The socket that stands for the path through the air. */
  port: z.string().max(12),
  /** What it hears of the other end, dBm; null where it hears nothing. */
  dbm: z.number().min(-150).max(50).nullable(),
  /** On the air, Mbit/s. */
  sendsMbps: z.number().min(0).max(MAX_INT),
  hearsMbps: z.number().min(0).max(MAX_INT),
})
export type PathState = z.infer<typeof pathStateSchema>

/** Of an access point: one that has joined it. */
export const stationSchema = z.strictObject({
  hardwareAddress,
  network: z.string().max(32),
  address: z.ipv4().nullable(),
  signalDbm: z.int().min(-120).max(0).nullable(),
  sinceSeconds: z.number().min(0).max(MAX_INT),
  /** To it and from it since it joined. */
  downOctets: z.int().min(0),
  upOctets: z.int().min(0),
})
/** Whom an access point is not to let in, or only so fast each way. */
export const clientRuleSchema = z.strictObject({
  hardwareAddress,
  isShut: z.boolean(),
  limitKbps: z.int().min(1).max(10_000_000).nullable(),
})

export const reportSchema = z.strictObject({
  /** Counts up from 1 with every report under one token; a lower or equal one is a replay. */
  sequence: z.int().min(1).max(MAX_INT),
  phase: z.enum(['running', 'loading-firmware', 'loading-configuration', 'fault']),
  firmware,
  /** Digest of the configuration that it runs; null where it runs its factory one. */
  configurationDigest: hex256.nullable(),
  uptimeSeconds: z.number().min(0).max(MAX_INT),
  address: z.ipv4(),
  factoryPassword: z.boolean(),
  ports: z.array(portStateSchema).max(96),
  /** Of a gateway: each of its lines. */
  lines: z.array(lineStateSchema).max(16),
  /** Of an access point: how many have joined it. */
  clients: z.int().min(0).max(10_000).optional(),
  /** Who they are, the first of them where there are more. */
  stations: z.array(stationSchema).max(200).optional(),
  /** Of a radio for bridges: each of its paths. */
  paths: z.array(pathStateSchema).max(16).default([]),
  /** Ids of commands carried out since the last report. */
  done: z.array(z.string().max(40)).max(16),
  /** Digest of a configuration that it keeps aside until it is told the moment. */
  holds: hex256.nullable().default(null),
  /** Whether it tries its configuration and waits to be told to keep it. */
  onTrial: z.boolean().default(false),
  /** Digest of a configuration that it tried and went back from. */
  wentBackFrom: hex256.nullable().default(null),
  /** Whether it runs what somebody set at its own page, and keeps that until it is told to fetch. */
  changedHere: z.boolean().default(false),
  /** Its clock: the zone, and who told it the time; null where it stands as it started. */
  clock: z
    .strictObject({ zone: z.string().max(64), from: z.ipv4().nullable() })
    .nullable()
    .default(null),
  message: z.string().max(200).nullable(),
})
export type Report = z.infer<typeof reportSchema>

export const commandSchema = z.strictObject({
  id: z.string().max(40),
  command: z.enum(['fetch', 'restart', 'locate']),
})
export const reportReplySchema = z.strictObject({
  nextReportSeconds: z.int().min(1),
  commands: z.array(commandSchema).max(16),
  /**
   * To a device that holds a configuration: in how many seconds it is to load it. Null where it is
   * to go on waiting.
   */
  applyInSeconds: z.number().min(0).nullable().default(null),
  /** To a device on trial. */
  trial: z.enum(['keep', 'wait', 'back']).nullable().default(null),
  /** What it is to run by now; null where nothing was released for it. */
  wants: z.strictObject({ digest: hex256, firmware }).nullable().default(null),
  /** The controller does not know the configuration that it runs, and asks for it. */
  sendRunning: z.boolean().default(false),
  /** To an access point: of clients, all that there is to say. Null where it knows already. */
  clientRules: z.array(clientRuleSchema).max(1000).nullable().default(null),
})
export type ReportReply = z.infer<typeof reportReplySchema>

/** The configuration that a device runs, where the controller asked for it. */
export const runningSchema = z.strictObject({ digest: hex256, configuration: configurationSchema })
export type Running = z.infer<typeof runningSchema>
