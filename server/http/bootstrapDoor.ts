/**
 * The server for devices from their box: RESTCONF over TLS (RFC 8572 7, RFC 8040), where each proves
 * itself by the certificate that it left the factory with. A port of its own, and nothing else
 * behind it.
 */
import { createServer, type Server } from 'node:https'
import type { TLSSocket } from 'node:tls'
import {
  createApp,
  createRouter,
  defineEventHandler,
  getRouterParam,
  send,
  setResponseHeader,
  setResponseStatus,
  toNodeListener,
  type H3Error,
  type H3Event,
} from 'h3'
import type { z } from 'zod'
import {
  bootstrapInputSchema,
  certificateOf,
  certified,
  derOf,
  keyOctets,
  OPERATION,
  pemOf,
  progressInputSchema,
  RESTCONF_ROOT,
  YANG_JSON,
  type BootstrapOutput,
} from '@mast/protocol/zeroTouch'
import { innermost, isDatabaseAway } from '../db/away'
import { parseJson } from '../given/json'
import { logLine } from '../given/text'
import { readOctets } from './body'
import { Refused } from '../refusal'
import { bootstrapping, imageFor, progressed, type Asker } from '../bootstrap/given'
import { CallRefused, errorsOf } from '../bootstrap/refused'

const BODY = { maxBytes: 64 * 1024, maxMs: 5000 }
const HANDSHAKE_MS = 5000
const MOST_CONNECTIONS = 500
const DEEPEST_CHAIN = 6
const BUSY_SECONDS = 5
const FROM = new Date('2020-01-01T00:00:00Z')
const UNTIL = new Date('2049-12-31T23:59:59Z')

/** What a device proved itself with in the handshake. @throws CallRefused without */
function askerOf(event: H3Event): Asker {
  const { socket } = event.node.req
  const chain: Buffer[] = []
  let at = (socket as TLSSocket).getPeerCertificate(true)
  while (at?.raw && chain.length < DEEPEST_CHAIN && !chain.some((c) => c.equals(at.raw))) {
    chain.push(at.raw)
    at = at.issuerCertificate
  }
  const [own, ...others] = chain
  if (!own)
    throw new CallRefused(
      401,
      'protocol',
      'access-denied',
      'come with the certificate that you left the factory with (IEEE 802.1AR)',
    )
  try {
    return { certificate: certificateOf(own), others: others.map((o) => certificateOf(o)) }
  } catch {
    throw new CallRefused(401, 'protocol', 'access-denied', 'the certificate cannot be read')
  }
}

async function inputOf<T>(event: H3Event, schema: z.ZodType<T>): Promise<T> {
  const read = schema.safeParse(parseJson(await readOctets(event, BODY, YANG_JSON)))
  if (read.success) return read.data
  const [first] = read.error.issues
  throw new CallRefused(
    400,
    'application',
    'invalid-value',
    `${first!.path.join('/')}: ${first!.message}`,
  )
}

const operations: Readonly<Record<string, (event: H3Event, asker: Asker) => Promise<unknown>>> = {
  [OPERATION.get]: async (event, asker) => {
    await inputOf(event, bootstrapInputSchema)
    const output: BootstrapOutput = await bootstrapping(asker)
    return { 'ietf-sztp-bootstrap-server:output': output }
  },
  [OPERATION.report]: async (event, asker) => {
    const said = await inputOf(event, progressInputSchema)
    const { 'progress-type': type, message } = said['ietf-sztp-bootstrap-server:input']
    await progressed(asker, type, message)
    return null
  },
}

const router = createRouter({ preemptive: true })
  .get(
    '/.well-known/host-meta',
    defineEventHandler((event) => {
      setResponseHeader(event, 'content-type', 'application/xrd+xml')
      return (
        `<XRD xmlns="http://docs.oasis-open.org/ns/xri/xrd-1.0">` +
        `<Link rel="restconf" href="${RESTCONF_ROOT}"/></XRD>`
      )
    }),
  )
  .post(
    `${RESTCONF_ROOT}/operations/:operation`,
    defineEventHandler(async (event) => {
      // Who asks is looked at before anything that it says.
      const asker = askerOf(event)
      const name = getRouterParam(event, 'operation', { decode: true }) ?? ''
      const operation = Object.hasOwn(operations, name) ? operations[name] : undefined
      if (!operation)
        throw new CallRefused(404, 'protocol', 'unknown-element', 'there is no such operation')
      const reply = await operation(event, asker)
      if (reply === null) {
        setResponseStatus(event, 204)
        return ''
      }
      return said(event, reply)
    }),
  )
  .get(
    '/bootstrap/images/:profile/:version',
    defineEventHandler(async (event) => {
      const asker = askerOf(event)
      const part = (name: string): string => getRouterParam(event, name, { decode: true }) ?? ''
      setResponseHeader(event, 'content-type', 'application/octet-stream')
      return imageFor(asker, part('profile'), part('version'))
    }),
  )

const said = (event: H3Event, value: unknown): Promise<void> => {
  setResponseHeader(event, 'cache-control', 'no-store')
  return send(event, JSON.stringify(value), YANG_JSON)
}

function refusalOf(error: H3Error): CallRefused {
  if (error.cause instanceof CallRefused) return error.cause
  if (error.cause instanceof Refused)
    return new CallRefused(400, 'protocol', 'malformed-message', error.cause.message)
  if (isDatabaseAway(error))
    return new CallRefused(503, 'application', 'resource-denied', 'come again in a moment')
  if (error.unhandled || error.statusCode >= 500) {
    console.error(`the start of a device failed: ${logLine(innermost(error).message)}`)
    return new CallRefused(500, 'application', 'operation-failed', 'something went wrong here')
  }
  const tag = error.statusCode === 413 ? 'too-big' : 'invalid-value'
  return new CallRefused(error.statusCode, 'protocol', tag, error.message)
}

/** @param port on loopback; what stands in front passes the connections on as they are */
export async function openBootstrapDoor(port: number, host: string): Promise<Server> {
  // For devices the server is a stranger until what it gives them says whose it is (RFC 8572 5.6):
  // this certificate proves nothing, and is made anew with each start.
  const own = await certified({ name: 'Able Mast', from: FROM, until: UNTIL, isAuthority: false })
  const app = createApp({
    onError(error, event) {
      const { status, tag, type, message } = refusalOf(error)
      setResponseStatus(event, status)
      if (status === 503) setResponseHeader(event, 'retry-after', BUSY_SECONDS)
      return said(event, errorsOf(tag, type, message))
    },
  }).use(router)
  const server = createServer(
    {
      cert: pemOf('CERTIFICATE', derOf(own.certificate)),
      key: pemOf('PRIVATE KEY', await keyOctets(own.key)),
      requestCert: true,
      // By whom it is certified is looked at for each site; that it has the key to it is proven.
      rejectUnauthorized: false,
      handshakeTimeout: HANDSHAKE_MS,
      minVersion: 'TLSv1.2',
    },
    toNodeListener(app),
  )
  server.maxConnections = MOST_CONNECTIONS
  server.headersTimeout = BODY.maxMs
  server.requestTimeout = 2 * BODY.maxMs
  server.on('tlsClientError', () => {
    /* Whoever does not get through the handshake is nobody. */
  })
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, host, resolve)
  })
  return server
}
