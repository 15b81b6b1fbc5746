/** Devices as the controller knows them. */
import { adoptionStates } from '@mast/core/adoption'
import { commandSchema, portStateSchema, reportSchema } from '@mast/protocol'
import { z } from 'zod'
import { endpoint } from './endpoint'
import { moment, name, nothing } from './values'

const caller = z.object({
  address: z.string(),
  hardwareAddress: z.string(),
  model: z.string(),
  sinceMs: z.number(),
})
/** What screens show of a device; what is absent in what an earlier version kept has a default. */
const rollDevice = z.object({
  deviceId: z.string(),
  state: z.enum(adoptionStates),
  claimed: z.boolean(),
  /** Claimed under the same serial, or with it in the plan, by another site of this controller. */
  claimedElsewhere: z.boolean(),
  plannedElsewhere: z.boolean(),
  /** Who calls under its serial without a token now, the first first. */
  callers: z.array(caller).default([]),
  model: z.string().nullable(),
  firmware: z.string().nullable(),
  factoryPassword: z.boolean().nullable(),
  configurationMatches: z.boolean().nullable(),
  /** Digest of the configuration that it runs; null where it runs none of ours. */
  runs: z.string().nullable().default(null),
  phase: reportSchema.shape.phase.nullable().default(null),
  clock: reportSchema.shape.clock,
  address: z.string().nullable(),
  lastHeardAt: moment.nullable(),
  changedAt: moment,
  desiredMissing: z.array(z.string()),
  /** The release that it is told; null where nothing was released for it. */
  release: z.number().nullable().default(null),
  /** Whether the plan wants something else on it by now than what was released. */
  isUnsent: z.boolean().default(false),
  /** Whether it went back by itself from what was last released. */
  wentBack: z.boolean().default(false),
  /** What it was told last, and when it took it; null where it was told nothing. */
  told: z
    .object({ command: commandSchema.shape.command, at: moment, doneAt: moment.nullable() })
    .nullable()
    .default(null),
  ports: z.array(portStateSchema),
  /** Of a gateway: each of its lines. */
  lines: reportSchema.shape.lines.default([]),
  /** Of a radio for bridges: each of its paths. */
  paths: reportSchema.shape.paths,
})
export type RollDevice = z.infer<typeof rollDevice>
const foreignDevice = z.object({
  serial: z.string(),
  hardwareAddress: z.string(),
  model: z.string(),
  firmware: z.string(),
  lastHeardAt: moment,
  /** The serial of the plan that it looks like. */
  nearest: z.string().nullable(),
})
export type ForeignDevice = z.infer<typeof foreignDevice>
const deviceEvent = z.object({
  deviceId: z.string(),
  at: moment,
  fromState: z.string(),
  toState: z.string(),
  event: z.string(),
  detail: z.string(),
})
export type DeviceEvent = z.infer<typeof deviceEvent>
const roll = z.object({
  devices: z.array(rollDevice),
  foreign: z.array(foreignDevice),
  events: z.array(deviceEvent),
})

/** Of so many devices that changed the rows are asked for; of more the whole roll. */
export const MOST_ROWS = 20
/** The roll: states, strangers, the last events; rows of some devices alone where they are named. */
export const readRoll = endpoint({
  method: 'GET',
  path: '/api/sites/:site/devices',
  access: 'viewer',
  query: z.object({
    only: z
      .string()
      .max(MOST_ROWS * 65)
      .regex(/^[^,]+(,[^,]+)*$/)
      .optional(),
  }),
  reply: roll,
})
/** Claims a device by the serial as typed off its label. */
export const claimDevice = endpoint({
  method: 'POST',
  path: '/api/sites/:site/devices/:device/claim',
  access: 'installer',
  params: { device: name },
  body: z.strictObject({ serial: z.string().min(1).max(40) }),
  /** Why nothing was sent to it yet, where that is so. */
  reply: z.object({ notSent: z.string().nullable() }),
})
/** Claims of one request; a longer list is sent in parts. */
export const MOST_CLAIMS = 200
/** Claims several, one after the other: what one refuses does not keep the others from it. */
export const claimDevices = endpoint({
  method: 'POST',
  path: '/api/sites/:site/claims',
  access: 'installer',
  body: z.strictObject({
    claims: z
      .array(z.strictObject({ deviceId: name, serial: z.string().min(1).max(40) }))
      .min(1)
      .max(MOST_CLAIMS),
  }),
  reply: z.object({
    /** How many of the site were claimed before, and are now. */
    before: z.int(),
    after: z.int(),
    claimed: z.array(z.string()),
    refused: z.array(z.object({ deviceId: z.string(), why: z.string() })),
    notSent: z.string().nullable(),
  }),
})
const path = z.array(z.string().max(500)).min(1).max(12)
/** What a device runs against what was sent to it, line by line; keys and passwords are not shown. */
export const readDifference = endpoint({
  method: 'GET',
  path: '/api/sites/:site/devices/:device/difference',
  access: 'viewer',
  params: { device: name },
  reply: z.object({
    /** Why there is none to show; null where there is. */
    says: z.string().nullable(),
    lines: z.array(
      z.object({
        path,
        where: z.string(),
        sent: z.string(),
        runs: z.string(),
        /** Why the plan cannot take what it runs; null where it can. */
        cannot: z.string().nullable(),
      }),
    ),
    /** Lines beyond those. */
    more: z.int(),
  }),
})
/** The edits that bring lines of the difference into the plan; whoever asks makes them. */
export const takeOver = endpoint({
  method: 'POST',
  path: '/api/sites/:site/devices/:device/difference',
  access: 'engineer',
  params: { device: name },
  body: z.strictObject({ paths: z.array(path).min(1).max(500) }),
  reply: z.object({
    edits: z.array(z.object({ name: z.string(), args: z.record(z.string(), z.unknown()) })),
    refused: z.array(z.object({ path, says: z.string() })),
  }),
})
export const giveUpDevice = endpoint({
  method: 'POST',
  path: '/api/sites/:site/devices/:device/give-up',
  access: 'engineer',
  params: { device: name },
  reply: nothing,
})
export type DeviceCommand = z.infer<typeof commandSchema>['command']
/** Leaves a command for the device's next call. */
export const commandDevice = endpoint({
  method: 'POST',
  path: '/api/sites/:site/devices/:device/command',
  access: 'installer',
  params: { device: name },
  body: z.strictObject({ command: commandSchema.shape.command }),
  reply: nothing,
})
/**
 * The prepared configuration of a device, to be loaded by its page. It holds the keys of the
 * wireless networks, so the log keeps that it was looked at.
 */
export const readConfiguration = endpoint({
  method: 'GET',
  path: '/api/sites/:site/devices/:device/configuration',
  access: 'installer',
  params: { device: name },
})
