/** The stand-ins of a site. */
import { clockSchema, faultSchema, snapshotSchema } from '@mast/standins/control'
import { z } from 'zod'
import { endpoint } from './endpoint'
import { nothing } from './values'

/** What can be seen of them: lamps, cables, the clock; null before they are first used. */
export const readStandins = endpoint({
  method: 'GET',
  path: '/api/sites/:site/standins',
  access: 'viewer',
  reply: z.object({ standins: snapshotSchema.nullable() }),
})
/** Sets how much faster than the wall clock they run. */
export const setSpeed = endpoint({
  method: 'POST',
  path: '/api/sites/:site/standins/clock',
  access: 'installer',
  body: clockSchema,
  reply: z.object({ standins: snapshotSchema }),
})
/** Puts a fault in, or takes it out. */
export const setFault = endpoint({
  method: 'POST',
  path: '/api/sites/:site/standins/fault',
  access: 'engineer',
  body: z.strictObject({ fault: faultSchema, on: z.boolean() }),
  reply: z.object({ text: z.string() }),
})
/**
 * Puts them back into their boxes: factory-new, uncabled; claims and ticked steps go with them.
 */
export const putStandinsBack = endpoint({
  method: 'DELETE',
  path: '/api/sites/:site/standins',
  access: 'engineer',
  reply: nothing,
})
