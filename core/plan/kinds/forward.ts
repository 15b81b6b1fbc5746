/** Port forwards: what the internet reaches by the address of the line. */
import { z } from 'zod'
import { defineKind } from './kind'
import { idSchema, nameSchema, portNumberSchema, textSchema } from '../values'

/**
 * What the internet reaches by the address of the line, IPv4: some of its ports lead to a host
 * inside.
 */
export const forwardSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  protocol: z.enum(['tcp', 'udp']),
  /** On the line, both ends belong to it. */
  outside: z
    .strictObject({ first: portNumberSchema, last: portNumberSchema })
    .refine((s) => s.first <= s.last, 'a span of ports ends after it begins'),
  deviceId: idSchema,
  /** Port of the host that the first one leads to; the others follow. */
  inside: portNumberSchema,
  reason: textSchema,
})

export type Forward = z.infer<typeof forwardSchema>

export const forwards = defineKind({
  collection: 'forwards',
  noun: 'Forward',
  word: 'port forward',
  plural: 'port forwards',
  schema: forwardSchema,
  most: 200,
  isOneStatement: true,
  references: [{ at: 'deviceId', to: ['devices'], whenGone: 'remove' }],
  check(f, _, say) {
    if (f.inside + f.outside.last - f.outside.first > 65_535)
      say(['inside'], 'the ports inside run beyond 65535')
    if (f.outside.last > f.outside.first && f.inside !== f.outside.first)
      say(
        ['inside'],
        'several ports keep their numbers; state each one that changes its number on its own',
      )
  },
})
