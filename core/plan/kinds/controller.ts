/** The controller: on which host it runs, and how devices learn of it. */
import { z } from 'zod'
import { defineSingle } from './kind'
import { idSchema, ipv4Schema } from '../values'

export const controllerSchema = z.strictObject({
  hostDeviceId: idSchema.nullable(),
  /** One of another site, by its address behind the peer of a tunnel; instead of a host here. */
  elsewhere: z.strictObject({ peerId: idSchema, address: ipv4Schema }).nullable(),
  port: z.int().min(1).max(65_535),
  /** How devices learn of it. */
  discovery: z.enum(['dhcp-option', 'dns-name']),
})

export const controller = defineSingle({
  top: 'controller',
  schema: controllerSchema,
  fieldWords: { hostDeviceId: 'runs on', elsewhere: 'runs elsewhere' },
  references: [
    { at: 'hostDeviceId', to: ['devices'], whenGone: 'clear' },
    {
      at: 'elsewhere.peerId',
      to: ['peers'],
      whenGone: (c) => {
        c.elsewhere = null
      },
    },
  ],
})
