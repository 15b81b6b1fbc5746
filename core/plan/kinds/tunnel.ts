/** Tunnels: of people, between sites, to a provider; where they end here and how they are found. */
import { z } from 'zod'
import { parseAddress } from '../../addressing/address'
import { containsAddress, parsePrefix } from '../../addressing/prefix'
import { defineKind } from './kind'
import {
  idSchema,
  ipv4Schema,
  nameSchema,
  portNumberSchema,
  subnet6Schema,
  subnetSchema,
} from '../values'

/** 32 octets in base64, as keys of X25519 are written. */
export const tunnelKeySchema = z
  .string()
  .regex(
    /^[A-Za-z0-9+/]{42}[AEIMQUYcgkosw048]=$/,
    'expected a public key: 44 letters and digits that end with =',
  )
/** Where a private or shared key lies in the vault; empty where the planner never had it. */
export const keyRefSchema = z.string().max(64)

export const tunnelKinds = ['people', 'sites', 'provider'] as const
export const tunnelProtocols = ['wireguard', 'ikev2'] as const

/** What both ends of an IKEv2 tunnel have to say alike (RFC 7296 2.7, RFC 8247). */
const ikeEnd = z.strictObject({
  /** Encryption, integrity, key exchange, as `aes256gcm16-prfsha384-ecp384`. */
  proposal: z.string().trim().min(1).max(80),
  /** The same of what carries the traffic. */
  childProposal: z.string().trim().min(1).max(80),
  /** How each end says who it is. */
  localId: z.string().trim().max(120),
  remoteId: z.string().trim().max(120),
  lifetimeSeconds: z.int().min(300).max(604_800),
  childLifetimeSeconds: z.int().min(300).max(604_800),
  /** What it sends through, as it was typed there: subnets of both ends. */
  localSelectors: z.array(subnetSchema).max(64),
  remoteSelectors: z.array(subnetSchema).max(64),
})

export const tunnelSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  kind: z.enum(tunnelKinds),
  protocol: z.enum(tunnelProtocols),
  /** The gateway, or a host behind it. */
  hostDeviceId: idSchema,
  /** The tunnel's own network. */
  subnet: subnetSchema.nullable(),
  /** Of this end in it; null is the first. */
  address: ipv4Schema.nullable(),
  subnet6: subnet6Schema.nullable(),
  /** UDP; null of an end that only calls. */
  listenPort: portNumberSchema.nullable(),
  /** The name under which this end is found from outside; null where there is none. */
  endpointName: z
    .string()
    .max(253)
    .regex(/^[a-z0-9]([a-z0-9.-]*[a-z0-9])?$/i, 'expected a name, for example harbour.example.org')
    .nullable(),
  /** Who keeps the name right when the address of the line changes; null where nobody does. */
  dynamicName: z
    .strictObject({
      /** RFC 2136, or a plain call of a web address. */
      how: z.enum(['update', 'web']),
      /** Server of the zone, or the address that is called; what it is told is in the vault. */
      server: z.string().trim().min(1).max(253),
      ttlSeconds: z.int().min(1).max(604_800),
      /** Where what lets it be changed lies in the vault: a key of RFC 8945, or a word. */
      keyRef: keyRefSchema.default(''),
    })
    .nullable(),
  /**
   * Whether the provider's own router, where this site stands behind one, passes the port on; null
   * while nobody looked.
   */
  isPassedOn: z.boolean().nullable(),
  /** Octets; null is worked out. */
  mtu: z.int().min(576).max(9000).nullable(),
  publicKey: tunnelKeySchema.nullable(),
  privateKeyRef: keyRefSchema,
  /** What those who come in are told to ask for names; empty is the gateway. */
  nameServers: z.array(ipv4Schema).max(4),
  /** Of a tunnel to a provider: devices and segments that go through it. */
  throughIds: z.array(idSchema).max(256),
  /** What they do while it is down. */
  whenDown: z.enum(['blocked', 'direct']),
  /** Kept, and switched on. */
  isActive: z.boolean(),
  ike: ikeEnd.nullable(),
  /** Of IKEv2: what the foreign end was set to, as its people say. */
  foreignIke: ikeEnd.nullable(),
})
export type Tunnel = z.infer<typeof tunnelSchema>

export const tunnels = defineKind({
  collection: 'tunnels',
  noun: 'Tunnel',
  word: 'tunnel',
  plural: 'tunnels',
  schema: tunnelSchema,
  most: 100,
  blank: {
    kind: 'people',
    protocol: 'wireguard',
    subnet: null,
    address: null,
    subnet6: null,
    listenPort: null,
    endpointName: null,
    dynamicName: null,
    isPassedOn: null,
    mtu: null,
    publicKey: null,
    privateKeyRef: '',
    nameServers: [],
    throughIds: [],
    whenDown: 'blocked',
    isActive: true,
    ike: null,
    foreignIke: null,
  },
  together: {
    dynamicName: 'dynamic name',
    ike: 'IKEv2 of this end',
    foreignIke: 'IKEv2 of the other end',
  },
  fieldWords: {
    hostDeviceId: 'runs on',
    listenPort: 'UDP port',
    isPassedOn: "passed on by the provider's router",
    throughIds: 'who goes through it',
    localId: 'own identity',
    remoteId: 'identity of the other end',
    childProposal: 'proposal of the traffic',
    privateKeyRef: 'private key',
  },
  references: [
    { at: 'hostDeviceId', to: ['devices'], whenGone: 'remove' },
    { at: 'throughIds.*', to: ['devices', 'segments'], whenGone: 'drop' },
  ],
  check(t, _, say) {
    if (new Set(t.throughIds).size !== t.throughIds.length)
      say(['throughIds'], 'one stands here twice')
    const subnet = t.subnet ? parsePrefix(t.subnet) : undefined
    const address = t.address ? parseAddress(t.address) : undefined
    if (subnet && address && !containsAddress(subnet, address))
      say(['address'], `lies outside ${t.subnet}, the network of the tunnel`)
  },
  // Its keys are of this site alone, and its network is planned anew.
  inAnotherSite: (t) => ({
    ...t,
    subnet: null,
    address: null,
    subnet6: null,
    publicKey: null,
    privateKeyRef: '',
    endpointName: null,
    dynamicName: null,
    isPassedOn: null,
  }),
})
