/** Services: what is asked for over a network. */
import { z } from 'zod'
import { defineKind } from './kind'
import { idSchema, nameSchema, portNumberSchema } from '../values'

/** Names of the IANA protocol numbers; `icmp` is an echo request over either family. */
export const serviceProtocols = ['tcp', 'udp', 'icmp', 'sctp', 'gre', 'esp', 'ah', 'ospf'] as const

export const serviceSchema = z.strictObject({
  id: idSchema,
  name: nameSchema,
  protocol: z.enum(serviceProtocols),
  /** Single ones, and spans whose ends belong to them. */
  ports: z
    .array(
      z.union([
        portNumberSchema,
        z
          .strictObject({ first: portNumberSchema, last: portNumberSchema })
          .refine((s) => s.first < s.last, 'a span of ports ends after it begins'),
      ]),
    )
    .max(32),
})

export type Service = z.infer<typeof serviceSchema>

export const services = defineKind({
  collection: 'services',
  noun: 'Service',
  word: 'service',
  plural: 'services',
  schema: serviceSchema,
  most: 500,
  check(s, _, say) {
    const hasPorts = ['tcp', 'udp', 'sctp'].includes(s.protocol)
    if (!hasPorts && s.ports.length > 0) say(['ports'], `${s.protocol.toUpperCase()} has no ports`)
    if (hasPorts && s.ports.length === 0) say(['ports'], 'at least one port is needed')
  },
})
