/** Bridges on the stand-ins. */
import { z } from 'zod'
import { endpoint } from './endpoint'

/** Turns the antenna of a unit, and reads what arrives at it then. */
export const turnAntenna = endpoint({
  method: 'POST',
  path: '/api/sites/:site/standins/antenna',
  access: 'installer',
  body: z.strictObject({
    deviceId: z.string().max(64),
    /** Off the straight line to the other end, degrees. */
    across: z.number().min(-180).max(180),
    up: z.number().min(-90).max(90),
  }),
  reply: z.object({
    /** By bridge: what this unit reads, dBm; null where nothing arrives. */
    readings: z.array(
      z.object({ bridgeId: z.string(), dbm: z.number().nullable(), why: z.string() }),
    ),
  }),
})
