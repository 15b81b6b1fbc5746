import { defineEventHandler, type EventHandler, type H3Event } from 'h3'
import type { z } from 'zod'

/**
 * A route that tells what it takes: tests ask every route with what its schema allows and what it
 * does not.
 */
export type Taking = EventHandler & { readonly bodySchema?: z.ZodType }

export const taking = (
  bodySchema: z.ZodType | undefined,
  handle: (event: H3Event) => Promise<unknown>,
): Taking => Object.assign(defineEventHandler(handle), bodySchema ? { bodySchema } : {})
