/** The process of the stand-ins. Settings come by environment; it ends with its parent. */
import { bootstrapHttp } from './control/bootstrapHttp'
import { controlServer } from './control/server'
import { sealingWith } from './control/seal'
import { WorldStore } from './control/worldStore'
import type { ControllerHttp } from './world/world'

const setting = (name: string): string => {
  const value = process.env[name]
  if (!value) {
    console.error(`${name} is not set; start the stand-ins with ./mast`)
    process.exit(2)
  }
  return value
}
const origin = setting('MAST_CONTROLLER_ORIGIN')
const bootstrapOrigin = setting('MAST_BOOTSTRAP_ORIGIN')
const port = Number(setting('MAST_STANDINS_PORT'))
const TIMEOUT_MS = 10_000

/** Controllers beside this one, by the names that plans have for them: `name=origin`, parted by commas. */
const others = new Map(
  (process.env.MAST_OTHER_CONTROLLERS ?? '')
    .split(',')
    .filter((pair) => pair.includes('='))
    .map((pair) => pair.split('=') as [string, string]),
)
const originOf = (to: string | null | undefined): string =>
  (to && others.get(new URL(to).hostname)) || origin

const http: ControllerHttp = async (asked) => {
  if (asked.identity) return bootstrapHttp(bootstrapOrigin, asked, asked.identity)
  const { method, path, token, etag, body, to } = asked
  try {
    const response = await fetch(originOf(to) + path, {
      method,
      signal: AbortSignal.timeout(TIMEOUT_MS),
      headers: {
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(token ? { authorization: `Bearer ${token}` } : {}),
        ...(etag ? { 'if-none-match': `"${etag}"` } : {}),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
    const bytes = new Uint8Array(await response.arrayBuffer())
    const isJson = response.headers.get('content-type')?.includes('application/json') ?? false
    return {
      status: response.status,
      bytes,
      body: isJson && bytes.length > 0 ? JSON.parse(new TextDecoder().decode(bytes)) : null,
    }
  } catch {
    return null
  }
}

const store = new WorldStore(
  setting('MAST_STANDINS_FOLDER'),
  http,
  (text) => console.error(text),
  sealingWith(Buffer.from(setting('MAST_STANDINS_KEY'), 'base64')),
  [...others.keys()],
)
const server = controlServer(store, setting('MAST_STANDINS_TOKEN'))
server.requestTimeout = 0
server.listen(port, '127.0.0.1', () => process.send?.('ready'))

const stop = (): void => {
  store.close()
  server.close()
  server.closeAllConnections()
  process.exit(0)
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)
process.on('disconnect', stop)
