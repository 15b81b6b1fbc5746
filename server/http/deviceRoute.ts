/**
 * Routes that devices call: the token first, then a small body in a short time; errors without
 * detail.
 */
import {
  createError,
  getRequestHeader,
  setResponseHeader,
  setResponseStatus,
  type EventHandler,
  type H3Event,
} from 'h3'
import type { z } from 'zod'
import { MAX_BODY_BYTES, MAX_OPEN_BODY_BYTES } from '@mast/protocol'
import { Replayed, Unauthorised } from '../adoption/refusals'
import { readJson, validated } from './body'
import { soon } from './soon'
import { taking } from './taking'

const MAX_MS = 5000

async function answering(event: H3Event, handle: () => Promise<unknown>): Promise<unknown> {
  setResponseHeader(event, 'cache-control', 'no-store')
  try {
    const reply = await handle()
    if (reply === null) {
      setResponseStatus(event, 304)
      return ''
    }
    return reply
  } catch (error) {
    if (error instanceof Unauthorised)
      throw createError({ statusCode: 401, message: 'the token or the secret is not right' })
    if (error instanceof Replayed)
      throw createError({ statusCode: 409, message: 'the sequence must count up' })
    throw error
  }
}

/** For devices that have no token yet. */
export function openDeviceRoute<B>(
  body: z.ZodType<B>,
  handle: (body: B) => Promise<unknown>,
): EventHandler {
  return taking(body, (event) =>
    answering(event, async () =>
      soon(
        handle(
          validated(body, await readJson(event, { maxBytes: MAX_OPEN_BODY_BYTES, maxMs: MAX_MS })),
        ),
      ),
    ),
  )
}

/**
 * For devices with a token.
 * @param who looks at the token before anything else of the request is read; throws Unauthorised
 */
export function deviceRoute<W, B = undefined>(
  who: (token: string) => Promise<W>,
  body: z.ZodType<B> | undefined,
  handle: (c: { event: H3Event; who: W; body: B }) => Promise<unknown>,
): EventHandler {
  return taking(body, (event) =>
    answering(event, async () => {
      const device = await who(bearer(event))
      const value = body
        ? validated(body, await readJson(event, { maxBytes: MAX_BODY_BYTES, maxMs: MAX_MS }))
        : (undefined as B)
      // A report that was counted although the device is told to come again is a replay then, and
      // does nothing.
      return soon(handle({ event, who: device, body: value }))
    }),
  )
}

/** @throws Unauthorised without one. */
function bearer(event: H3Event): string {
  const match = /^Bearer ([\w-]{32,128})$/.exec(getRequestHeader(event, 'authorization') ?? '')
  if (!match) throw new Unauthorised()
  return match[1]!
}
