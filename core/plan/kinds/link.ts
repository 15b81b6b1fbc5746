/** Cables, and bridges through the air, from socket to socket. */
import { z } from 'zod'
import { defineKind } from './kind'
import type { Port } from './port'
import { idSchema } from '../values'

export const linkSchema = z.strictObject({
  id: idSchema,
  a: idSchema,
  b: idSchema,
  medium: z.enum(['copper', 'fibre', 'radio']),
  /** Of the cable, or of the path through the air. */
  lengthM: z.number().min(0.1, 'a cable has a length').max(200_000),
})

export type Link = z.infer<typeof linkSchema>

export const links = defineKind({
  collection: 'links',
  noun: 'Link',
  word: 'cable',
  plural: 'cables',
  schema: linkSchema,
  most: 30_000,
  together: { a: 'ends', b: 'ends' },
  fieldWords: { lengthM: 'length, m', a: 'one end', b: 'other end' },
  nameOf: (l, _, named) => `${named(l.a)} to ${named(l.b)}`,
  references: [
    { at: 'a', to: ['ports'], whenGone: 'remove', isPlug: 'alone' },
    { at: 'b', to: ['ports'], whenGone: 'remove', isPlug: 'alone' },
  ],
  check(l, plan: { ports: Record<string, Port> }, say) {
    if (plan.ports[l.a] && plan.ports[l.a]?.deviceId === plan.ports[l.b]?.deviceId)
      say([], 'both ends are on the same device')
  },
})
