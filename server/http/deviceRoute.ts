/**
 * Routes that devices call: the token first, then a small body in a short time; errors without
 * detail.
 */
import {
  getRequestHeader,
  setResponseHeader,
  setResponseStatus,
  type EventHandler,
  type H3Event,
} from 'h3'
import type { z } from 'zod'
import { MAX_BODY_BYTES, MAX_OPEN_BODY_BYTES } from '@mast/protocol'
import { unauthorised } from '../adoption/refusals'
import { validated } from '../given/validated'
import { readJson } from './body'
import { soon } from './soon'
import { taking } from './taking'

const MAX_MS = 5000

async function answering(event: H3Event, handle: () => Promise<unknown>): Promise<unknown> {
  setResponseHeader(event, 'cache-control', 'no-store')
  const reply = await handle()
  if (reply !== null) return reply
  setResponseStatus(event, 304)
  return ''
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
 * @param who looks at the token before anything else of the request is read; throws Refused
 */
export function deviceRoute<W, B = undefined>(
  who: (token: string) => Promise<W>,
  body: z.ZodType<B> | undefined,
  handle: (c: { event: H3Event; who: W; body: B }) => Promise<unknown>,
  maxBytes = MAX_BODY_BYTES,
): EventHandler {
  return taking(body, (event) =>
    answering(event, async () => {
      const device = await who(bearer(event))
      const value = body
        ? validated(body, await readJson(event, { maxBytes, maxMs: MAX_MS }))
        : (undefined as B)
      // A report that was counted although the device is told to come again is a replay then, and
      // does nothing.
      return soon(handle({ event, who: device, body: value }))
    }),
  )
}

/** @throws Refused without one. */
function bearer(event: H3Event): string {
  const match = /^Bearer ([\w-]{32,128})$/.exec(getRequestHeader(event, 'authorization') ?? '')
  if (!match) throw unauthorised()
  return match[1]!
}
