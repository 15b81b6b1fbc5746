import type { Endpoint } from '@mast/api'
import { defineEventHandler, type EventHandler, type H3Event } from 'h3'
import type { z } from 'zod'

/**
 * A route that tells what it is: tests ask every route with what its schema allows and what it does
 * not, and hold the file that it lies in against its path.
 */
export type Taking = EventHandler & {
  readonly endpoint?: Endpoint
  readonly bodySchema?: z.ZodType
}

export const taking = (
  of: Endpoint | z.ZodType | undefined,
  handle: (event: H3Event) => Promise<unknown>,
): Taking =>
  Object.assign(
    defineEventHandler(handle),
    of && ('path' in of ? { endpoint: of, bodySchema: of.body } : { bodySchema: of }),
  )
