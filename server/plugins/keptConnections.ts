import type { Server } from 'node:http'
import type { Socket } from 'node:net'

/**
 * How long a connection without a request is kept. Longer than what proxies and devices commonly
 * keep theirs (60 s): whoever closes later
 * never closes one over which the other side is just about to ask.
 */
const IDLE_MS = 75_000

export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('request', (event) => {
    const { server } = event.node.req.socket as Socket & { server?: Server }
    if (server) server.keepAliveTimeout = IDLE_MS
  })
})
