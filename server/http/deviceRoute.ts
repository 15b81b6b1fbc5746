/** Routes that devices call: small bodies, short times, a bearer token where one is needed, errors without detail. */
import { createError, defineEventHandler, getRequestHeader, setResponseHeader, setResponseStatus, type EventHandler, type H3Event } from 'h3'
import type { z } from 'zod'
import { MAX_BODY_BYTES } from '@mast/protocol'
import { Replayed, Unauthorised } from '../adoption/refusals'
import { readJson, validated } from './body'

const BOUNDS = { maxBytes: MAX_BODY_BYTES, maxMs: 5000 }

export function deviceRoute<B = undefined>(body: z.ZodType<B> | undefined, handle: (c: { event: H3Event; body: B }) => Promise<unknown>): EventHandler {
  return defineEventHandler(async (event) => {
    setResponseHeader(event, 'cache-control', 'no-store')
    try {
      const value = body ? validated(body, await readJson(event, BOUNDS)) : (undefined as B)
      const reply = await handle({ event, body: value })
      if (reply === null) { setResponseStatus(event, 304); return '' }
      return reply
    } catch (error) {
      if (error instanceof Unauthorised) throw createError({ statusCode: 401, message: 'the token or the secret is not right' })
      if (error instanceof Replayed) throw createError({ statusCode: 409, message: 'the sequence must count up' })
      throw error
    }
  })
}

/** @throws Unauthorised without one. */
export function bearer(event: H3Event): string {
  const match = /^Bearer ([\w-]{32,128})$/.exec(getRequestHeader(event, 'authorization') ?? '')
  if (!match) throw new Unauthorised()
  return match[1]!
}
