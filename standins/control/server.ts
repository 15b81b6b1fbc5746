/**
 * The door of the stand-ins' process: HTTP on loopback, with a token that only the application's
 * server has.
 */
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { timingSafeEqual } from 'node:crypto'
import { z } from 'zod'
import { WorldStopped, type World } from '../world/world'
import {
  clockSchema,
  faultSchema,
  handSchema,
  probesSchema,
  worldSchema,
  type WorldDescription,
} from './messages'

const MAX_BODY_BYTES = 32 * 1024 * 1024
const sitePattern = /^[a-z0-9-]{1,64}$/

export interface Worlds {
  get(siteId: string): World | undefined
  load(siteId: string, description: WorldDescription): World
  drop(siteId: string): void
  changed(): void
  readonly sites: readonly string[]
}

class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message)
  }
}

async function bodyOf(request: IncomingMessage): Promise<unknown> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of request) {
    size += (chunk as Buffer).length
    if (size > MAX_BODY_BYTES) throw new Refused(413, 'too large')
    chunks.push(chunk as Buffer)
  }
  try {
    return JSON.parse(Buffer.concat(chunks).toString('utf8') || 'null')
  } catch {
    throw new Refused(400, 'not JSON')
  }
}

function read<T>(schema: z.ZodType<T>, value: unknown): T {
  const result = schema.safeParse(value)
  if (!result.success)
    throw new Refused(
      400,
      result.error.issues.map((i) => `${i.path.join('.')}: ${i.message}`).join('; '),
    )
  return result.data
}

export function controlServer(worlds: Worlds, token: string): Server {
  const expected = Buffer.from(`Bearer ${token}`)
  const authorised = (header: string | undefined): boolean => {
    const given = Buffer.from(header ?? '')
    return given.length === expected.length && timingSafeEqual(given, expected)
  }
  const answer = async (request: IncomingMessage): Promise<unknown> => {
    if (!authorised(request.headers.authorization)) throw new Refused(401, 'who is asking?')
    const [, top, siteId = '', what = ''] = (request.url ?? '').split('/')
    if (top === 'ready') return { ready: true }
    if (top === 'worlds' && siteId === '' && request.method === 'GET')
      return { sites: worlds.sites }
    if (top !== 'worlds' || !sitePattern.test(siteId)) throw new Refused(404, 'nothing here')
    if (request.method === 'PUT' && !what)
      return worlds.load(siteId, read(worldSchema, await bodyOf(request))).snapshot()
    if (request.method === 'DELETE' && !what) {
      worlds.drop(siteId)
      return {}
    }
    const world = worlds.get(siteId)
    if (!world) throw new Refused(404, 'this site is not on the stand-ins')
    if (request.method === 'GET' && !what) return world.snapshot()
    if (request.method !== 'POST') throw new Refused(405, 'not so')
    const body = await bodyOf(request)
    const reply = await act(world, what, body)
    worlds.changed()
    return reply
  }
  return createServer((request: IncomingMessage, response: ServerResponse) => {
    answer(request).then(
      (value) => send(response, 200, value),
      (error: unknown) => send(response, ...answerTo(error)),
    )
  })
}

function answerTo(error: unknown): [number, { message: string }] {
  const message = error instanceof Error ? error.message : 'failed'
  if (error instanceof WorldStopped)
    return [
      409,
      {
        message:
          'the stand-ins of this site stand still, since something in them went wrong: ' +
          `${message}. Change the plan, or put them back into their boxes`,
      },
    ]
  return [error instanceof Refused ? error.status : 500, { message }]
}

async function act(world: World, what: string, body: unknown): Promise<unknown> {
  switch (what) {
    case 'clock':
      world.clock.setSpeed(read(clockSchema, body).speed)
      return world.snapshot()
    case 'hand': {
      const hand = read(handSchema, body)
      return world.guarded(() => world.hand(hand))
    }
    case 'fault': {
      const { fault, on } = read(z.strictObject({ fault: faultSchema, on: z.boolean() }), body)
      return world.guarded(() => world.setFault(fault, on))
    }
    case 'probes': {
      const { probes } = read(probesSchema, body)
      return { observations: await world.guarded(() => world.probe(probes)) }
    }
    default:
      throw new Refused(404, 'nothing here')
  }
}

function send(response: ServerResponse, status: number, value: unknown): void {
  response.writeHead(status, { 'content-type': 'application/json' })
  response.end(JSON.stringify(value))
}
