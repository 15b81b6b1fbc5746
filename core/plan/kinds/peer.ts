/** The other ends of tunnels: devices of people, sites, the server of a provider. */
import { z } from 'zod'
import { defineKind } from './kind'
import {
  idSchema,
  ipv4Schema,
  nameSchema,
  portNumberSchema,
  subnet6Schema,
  subnetSchema,
} from '../values'
import { keyRefSchema, tunnelKeySchema } from './tunnel'

export const peerDevices = ['phone', 'tablet', 'laptop', 'desktop', 'gateway', 'server'] as const
/** How a file got to its device. */
export const carriers = ['link', 'picture', 'by-hand', 'mail', 'message', 'made-there'] as const
const rate = z.number().positive().max(400_000).nullable()

export const peerSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  tunnelId: idSchema,
  device: z.enum(peerDevices),
  /** Its address in the tunnel; null is given by the plan of addresses. */
  address: ipv4Schema.nullable(),
  publicKey: tunnelKeySchema.nullable(),
  privateKeyRef: keyRefSchema,
  sharedKeyRef: keyRefSchema,
  /** All that it sends goes through, or only what is here. */
  isFull: z.boolean(),
  /** What lies behind it. */
  networks: z.array(z.union([subnetSchema, subnet6Schema])).max(64),
  /** Where it is called; null where it calls. */
  endpoint: z
    .strictObject({ host: z.string().trim().min(1).max(253), port: portNumberSchema })
    .nullable(),
  /** Id of the site of the team that it is, and of its own end of this there. */
  siteId: z.string().max(64).nullable(),
  /** s; null is worked out, 0 sends none. */
  keepaliveSeconds: z.int().min(0).max(65_535).nullable(),
  /** Of its own line and of what it can encrypt, Mbit/s. */
  downMbps: rate,
  upMbps: rate,
  deviceMbps: rate,
  /** Round trip to it, ms. */
  roundTripMs: z.number().min(0).max(10_000).nullable(),
  /** Devices that its file lies on, by name: one is right. */
  usedOn: z.array(nameSchema).max(16),
  carriedBy: z.enum(carriers).nullable(),
})
export type Peer = z.infer<typeof peerSchema>

export const peers = defineKind({
  collection: 'peers',
  noun: 'Peer',
  word: 'peer',
  plural: 'peers',
  schema: peerSchema,
  most: 2000,
  blank: {
    device: 'laptop',
    address: null,
    publicKey: null,
    privateKeyRef: '',
    sharedKeyRef: '',
    isFull: false,
    networks: [],
    endpoint: null,
    siteId: null,
    keepaliveSeconds: null,
    downMbps: null,
    upMbps: null,
    deviceMbps: null,
    roundTripMs: null,
    usedOn: [],
    carriedBy: null,
  },
  together: { endpoint: 'endpoint' },
  fieldWords: {
    isFull: 'all of its traffic',
    networks: 'networks behind it',
    usedOn: 'devices that use it',
    carriedBy: 'how it was handed out',
    deviceMbps: 'what it can encrypt, Mbit/s',
    roundTripMs: 'round trip, ms',
    sharedKeyRef: 'shared key',
  },
  references: [{ at: 'tunnelId', to: ['tunnels'], whenGone: 'remove' }],
  // People have files for one site, and other sites are joined anew.
  inAnotherSite: () => null,
})
