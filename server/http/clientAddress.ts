import { getRequestHeader, type H3Event } from 'h3'

/**
 * Where a request comes from. Behind a proxy of our own it is the last address of
 * `X-Forwarded-For`, the one that our proxy saw and added:
 * those before it were in what the browser sent, which may say what it likes.
 */
export function clientAddress(
  socketAddress: string,
  forwardedFor: string | undefined,
  isBehindProxy: boolean,
): string {
  const last = isBehindProxy ? forwardedFor?.split(',').at(-1)?.trim() : undefined
  return last || socketAddress
}

export const addressOf = (event: H3Event): string =>
  clientAddress(
    event.node.req.socket.remoteAddress ?? '',
    getRequestHeader(event, 'x-forwarded-for'),
    process.env.MAST_BEHIND_PROXY === '1',
  )
