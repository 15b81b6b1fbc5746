/** Lines to the internet, and what their provider handed off. */
import { z } from 'zod'
import { defineKind } from './kind'
import {
  hardwareAddressSchema,
  idSchema,
  ipv4Schema,
  nameSchema,
  subnet6Schema,
  subnetSchema,
  textSchema,
  vlanIdSchema,
  addressWithLengthSchema,
} from '../values'

export const handOffSchema = z.strictObject({
  /** null is always "not known yet"; what is known to be absent has a word of its own. */
  mode: z.enum(['automatic', 'fixed', 'pppoe', 'cellular']).nullable(),
  /**
   * Name of the account of a PPPoE line; its password is in the vault under `line-` and the id of
   * the line.
   */
  pppoeUser: textSchema.nullable(),
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
  address: addressWithLengthSchema.nullable(),
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
  name: nameSchema,
  rank: z.int().min(0).max(9),
  portId: idSchema.nullable(),
  handOff: handOffSchema,
})

export type Uplink = z.infer<typeof uplinkSchema>
export type HandOff = z.infer<typeof handOffSchema>

export const unknownHandOff: HandOff = {
  mode: null,
  pppoeUser: null,
  passwordRef: null,
  accessPointName: null,
  forcedSpeedMbps: null,
  ipv6: null,
  vlan: null,
  priority: null,
  mtu: null,
  addressKind: null,
  address: null,
  gateway: null,
  nameServers: [],
  providerLan: null,
  pinnedHardwareAddress: null,
  downMbps: null,
  upMbps: null,
  cap: null,
}
export const uplinks = defineKind({
  collection: 'uplinks',
  noun: 'Uplink',
  word: 'line',
  plural: 'lines',
  schema: uplinkSchema,
  most: 16,
  blank: { rank: 0, portId: null, handOff: unknownHandOff },
  apart: ['handOff'],
  fieldWords: {
    portId: 'port',
    handOff: 'hand-off',
    providerLan: "provider's LAN",
    pinnedHardwareAddress: 'pinned hardware address',
    addressKind: 'kind of address',
    downMbps: 'down, Mbit/s',
    upMbps: 'up, Mbit/s',
    pppoeUser: 'PPPoE account',
    passwordRef: 'password',
    accessPointName: 'access point name',
    forcedSpeedMbps: 'forced speed, Mbit/s',
    pricePerGb: 'price per GB',
    gigabytes: 'included, GB',
    ipv6: 'IPv6',
  },
  references: [{ at: 'portId', to: ['ports'], whenGone: 'clear', isPlug: 'beside its kind' }],
  // What the other line is, its own provider tells.
  inAnotherSite: (u) => ({ ...u, handOff: { ...unknownHandOff, mode: u.handOff.mode } }),
})
