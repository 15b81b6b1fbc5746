/**
 * The door of the stand-ins' process: HTTP on loopback, with a token that only the application's
 * server has.
 */
import { createServer, type Server } from 'node:http'
import { timingSafeEqual } from 'node:crypto'
import {
  createApp,
  createError,
  createRouter,
  defineEventHandler,
  getRequestHeader,
  getRouterParam,
  send,
  setResponseStatus,
  toNodeListener,
  type EventHandler,
  type H3Error,
  type H3Event,
} from 'h3'
import { z } from 'zod'
import { derOf } from '@mast/protocol/zeroTouch'
import { base64, octets } from '../zeroTouch/base64'
import { WorldStopped, type World } from '../world/world'
import {
  clockSchema,
  drillAskedSchema,
  faultSchema,
  handSchema,
  probesSchema,
  vouchersAskedSchema,
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

async function bodyOf(event: H3Event): Promise<unknown> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of event.node.req) {
    size += (chunk as Buffer).length
    if (size > MAX_BODY_BYTES) throw createError({ statusCode: 413, message: 'too large' })
    chunks.push(chunk as Buffer)
  }
  try {
    return JSON.parse(Buffer.concat(chunks).toString('utf8') || 'null')
  } catch {
    throw createError({ statusCode: 400, message: 'not JSON' })
  }
}

function read<T>(schema: z.ZodType<T>, value: unknown): T {
  const result = schema.safeParse(value)
  if (!result.success)
    throw createError({
      statusCode: 400,
      message: result.error.issues.map((i) => `${i.path.join('.')}: ${i.message}`).join('; '),
    })
  return result.data
}

export function controlServer(worlds: Worlds, token: string): Server {
  const expected = Buffer.from(`Bearer ${token}`)
  const authorised = (header: string | undefined): boolean => {
    const given = Buffer.from(header ?? '')
    return given.length === expected.length && timingSafeEqual(given, expected)
  }
  const site = (event: H3Event): string => {
    const id = getRouterParam(event, 'site') ?? ''
    if (!sitePattern.test(id)) throw createError({ statusCode: 404, message: 'nothing here' })
    return id
  }
  const worldAt = (event: H3Event): World => {
    const world = worlds.get(site(event))
    if (!world) throw createError({ statusCode: 404, message: 'this site is not on the stand-ins' })
    return world
  }
  /** What somebody does to a world; it is kept afterwards. */
  const doing = <T>(schema: z.ZodType<T>, act: (world: World, given: T) => unknown): EventHandler =>
    defineEventHandler(async (event) => {
      const world = worldAt(event)
      const reply: unknown = await act(world, read(schema, await bodyOf(event)))
      worlds.changed()
      return reply
    })
  const router = createRouter({ preemptive: true })
    .get(
      '/ready',
      defineEventHandler(() => ({ ready: true })),
    )
    .get(
      '/worlds',
      defineEventHandler(() => ({ sites: worlds.sites })),
    )
    .get(
      '/worlds/:site',
      defineEventHandler((event) => worldAt(event).snapshot()),
    )
    .put(
      '/worlds/:site',
      defineEventHandler(async (event) => {
        const id = site(event)
        return worlds.load(id, read(worldSchema, await bodyOf(event))).snapshot()
      }),
    )
    .delete(
      '/worlds/:site',
      defineEventHandler((event) => {
        worlds.drop(site(event))
        return {}
      }),
    )
    .post(
      '/worlds/:site/clock',
      doing(clockSchema, (world, { speed }) => {
        world.clock.setSpeed(speed)
        return world.snapshot()
      }),
    )
    .post(
      '/worlds/:site/hand',
      doing(handSchema, (world, hand) => world.guarded(() => world.hand(hand))),
    )
    .post(
      '/worlds/:site/fault',
      doing(faultAskedSchema, (world, { fault, on }) =>
        world.guarded(() => world.setFault(fault, on)),
      ),
    )
    .post(
      '/worlds/:site/probes',
      doing(probesSchema, async (world, { probes }) => ({
        observations: await world.guarded(() => world.probe(probes)),
      })),
    )
    .post(
      '/worlds/:site/vouchers',
      doing(vouchersAskedSchema, async ({ factory, epochNow }, { owner, serials }) => {
        const [maker] = await factory.anchors()
        const now = new Date(epochNow * 1000)
        const made = await factory.vouchers(octets(owner), serials, now)
        return { maker: base64(derOf(maker!)), vouchers: made.map((v) => base64(v)) }
      }),
    )
    .post(
      '/worlds/:site/drill',
      doing(drillAskedSchema, (world, asked) => world.guarded(() => world.drill(asked))),
    )
  const app = createApp({
    onRequest(event) {
      if (!authorised(getRequestHeader(event, 'authorization')))
        throw createError({ statusCode: 401, message: 'who is asking?' })
    },
    onError(error, event) {
      const [status, message] = answerTo(error)
      setResponseStatus(event, status)
      return send(event, JSON.stringify({ message }), 'application/json')
    },
  })
  return createServer(toNodeListener(app.use(router)))
}

const faultAskedSchema = z.strictObject({ fault: faultSchema, on: z.boolean() })

function answerTo(error: H3Error): [number, string] {
  const { cause } = error
  if (cause instanceof WorldStopped)
    return [
      409,
      'the stand-ins of this site stand still, since something in them went wrong: ' +
        `${cause.message}. Change the plan, or put them back into their boxes`,
    ]
  return [error.unhandled ? 500 : error.statusCode, error.message]
}
