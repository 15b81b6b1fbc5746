import { getRequestHeader, type H3Event } from 'h3'

/**
 * Whether the browser speaks TLS, by what the proxy in front says. Whoever says so without one
 * changes nothing but what is sent back to themselves.
 */
export const isSecure = (event: H3Event): boolean =>
  getRequestHeader(event, 'x-forwarded-proto') === 'https'
