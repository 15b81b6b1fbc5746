/** Networks on the air. */
import { z } from 'zod'
import { defineKind } from './kind'
import { idSchema } from '../values'

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

export type WirelessNetwork = z.infer<typeof wirelessNetworkSchema>

export const wirelessNetworks = defineKind({
  collection: 'wirelessNetworks',
  noun: 'WirelessNetwork',
  word: 'wireless network',
  plural: 'wireless networks',
  schema: wirelessNetworkSchema,
  most: 100,
  fieldWords: {
    accessPointIds: 'on',
    keyRef: 'key',
    clientIsolation: 'client isolation',
  },
  references: [
    { at: 'segmentId', to: ['segments'], whenGone: 'remove' },
    { at: 'accessPointIds.*', to: ['devices'], whenGone: 'drop' },
  ],
})
