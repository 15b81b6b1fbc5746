/** The controller: where it runs and for how long, and how devices learn of it. */
import { z } from 'zod'
import { defineSingle } from './kind'
import { domainSchema, idSchema, ipv4Schema } from '../values'

const port = z.int().min(1).max(65_535)
/** Another server for devices from their box (RFC 8572): a name or an address. */
const bootstrapServer = z.strictObject({ host: z.union([ipv4Schema, domainSchema]), port })

/** Whether it runs day and night, or is started when somebody has something to do with it. */
export const controllerHours = ['always', 'when-needed'] as const
/** Who knows its administrators: itself, or a service on the internet. */
export const controllerAccounts = ['local', 'hosted'] as const

export const controllerSchema = z.strictObject({
  /** A host of its own, or the gateway itself. */
  hostDeviceId: idSchema.nullable(),
  /** One of another site, by its address behind the peer of a tunnel; instead of a host here. */
  elsewhere: z.strictObject({ peerId: idSchema, address: ipv4Schema }).nullable(),
  /** One on the internet, by its name there; instead of a host here. */
  hosted: z.strictObject({ name: domainSchema }).nullable(),
  port,
  /** How devices learn of it. */
  discovery: z.enum(['dhcp-option', 'dns-name']),
  runs: z.enum(controllerHours),
  accounts: z.enum(controllerAccounts),
  /**
   * Where it serves devices from their box by RFC 8572, and whether it only passes them on to
   * another server; null where it does not.
   */
  bootstrap: z.strictObject({ port, passTo: bootstrapServer.nullable() }).nullable(),
})

export const controller = defineSingle({
  top: 'controller',
  schema: controllerSchema,
  fieldWords: {
    hostDeviceId: 'runs on',
    elsewhere: 'runs elsewhere',
    hosted: 'runs on the internet',
    runs: 'is on',
    bootstrap: 'serves devices from their box',
  },
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
