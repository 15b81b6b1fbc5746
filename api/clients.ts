/** Clients on the air of a site. */
import { z } from 'zod'
import { endpoint } from './endpoint'
import { moment, nothing } from './values'

const hardwareAddress = z
  .string()
  .toLowerCase()
  .regex(
    /^([0-9a-f]{2}:){5}[0-9a-f]{2}$/,
    'a hardware address is six pairs of digits and letters a to f',
  )
const amounts = { downOctets: z.number(), upOctets: z.number() }

const clientOnAir = z.object({
  hardwareAddress: z.string(),
  /** What somebody called it; null where nobody did. */
  name: z.string().nullable(),
  isShut: z.boolean(),
  limitKbps: z.number().nullable(),
  /** The access point that it was on last. */
  deviceId: z.string().nullable(),
  network: z.string().nullable(),
  address: z.string().nullable(),
  signalDbm: z.number().nullable(),
  joinedAt: moment.nullable(),
  seenAt: moment.nullable(),
  /** In the last hour; today, by the clocks of the site. */
  hour: z.object({ ...amounts, /** For how much of it that was counted. */ seconds: z.number() }),
  day: z.object(amounts),
})
export type ClientOnAir = z.infer<typeof clientOnAir>
const span = z.object({ at: moment, ...amounts })
export type ClientSpan = z.infer<typeof span>

export const readClients = endpoint({
  method: 'GET',
  path: '/api/sites/:site/clients',
  access: 'viewer',
  reply: z.object({ clients: z.array(clientOnAir) }),
})
export const readClientTraffic = endpoint({
  method: 'GET',
  path: '/api/sites/:site/clients/:client/traffic',
  access: 'viewer',
  params: { client: hardwareAddress },
  /** Of five minutes each; one in which nothing moved is absent. */
  reply: z.object({ spans: z.array(span) }),
})
const changeClientBody = z
  .strictObject({
    name: z.string().trim().min(1).max(80).nullable(),
    isShut: z.boolean(),
    limitKbps: z.int().min(1).max(10_000_000).nullable(),
  })
  .partial()
export type ChangeClient = z.infer<typeof changeClientBody>
export const changeClient = endpoint({
  method: 'POST',
  path: '/api/sites/:site/clients/:client',
  access: 'engineer',
  params: { client: hardwareAddress },
  body: changeClientBody,
  reply: nothing,
})
