/**
 * The three kinds of route: open to all, for who is signed in, and for members of a site. Each
 * validates what it is given.
 */
import { isAtLeast, type Role } from '@mast/core/roles'
import { and, eq } from 'drizzle-orm'
import {
  createError,
  getRequestHeader,
  getRouterParam,
  setResponseHeader,
  type EventHandler,
  type H3Event,
} from 'h3'
import { z } from 'zod'
import { accountOf, type Account } from '../accounts/sessions'
import { db } from '../db/database'
import { members, sites } from '../db/schema'
import { Shares } from '../work/queue'
import { parseJson, readOctets, validated, type Bounds } from './body'
import { isCrossSite } from './crossSite'
import { soon } from './soon'
import { taking } from './taking'
import { isPlainText } from './text'

const BODY = { maxBytes: 2 * 1024 * 1024, maxMs: 20_000 }
/** Of whoever is not known yet: enough for a name and a password. */
const OPEN_BODY = { maxBytes: 8 * 1024, maxMs: 10_000 }
/** Bodies beyond this are large, and one account sends so many of them at once. */
const LARGE_BYTES = 64 * 1024
const largeBodies = new Shares('large requests of one account', 4)
export const siteIdSchema = z.string().regex(/^[a-z0-9-]{1,64}$/)

export type Site = typeof sites.$inferSelect
interface WithBody<B> {
  readonly event: H3Event
  readonly body: B
}
interface SignedIn<B> extends WithBody<B> {
  readonly account: Account
}
interface OnSite<B> extends SignedIn<B> {
  readonly site: Site
  readonly role: Role
}

/** The octets of a body; those of large ones one account does not send without end. */
export async function octetsFor(
  event: H3Event,
  accountId: string | null,
  bounds: Bounds,
): Promise<Buffer> {
  const length = getRequestHeader(event, 'content-length')
  const isLarge = length === undefined || Number(length) > LARGE_BYTES
  const leave = accountId !== null && isLarge ? largeBodies.take(accountId) : () => {}
  try {
    return await readOctets(event, bounds)
  } finally {
    leave()
  }
}

async function bodyFor<B>(
  event: H3Event,
  schema: z.ZodType<B> | undefined,
  accountId: string | null,
  bounds: Bounds,
): Promise<B> {
  if (!schema) return undefined as B
  return validated(schema, parseJson(await octetsFor(event, accountId, bounds)))
}

/**
 * A page of another origin must not make a signed-in browser act or read. Answers are for who
 * asked, and kept by nobody on the way.
 */
function guard(event: H3Event): void {
  setResponseHeader(event, 'cache-control', 'no-store')
  const header = (name: string): string | undefined => getRequestHeader(event, name)
  if (isCrossSite(event.method, header('host'), header('origin'), header('sec-fetch-site')))
    throw createError({ statusCode: 403, message: 'this request came from another site' })
}

export async function membership(
  siteId: string,
  accountId: string,
): Promise<{ site: Site; role: Role } | undefined> {
  const [row] = await db()
    .select({ site: sites, role: members.role })
    .from(sites)
    .innerJoin(members, and(eq(members.siteId, sites.id), eq(members.accountId, accountId)))
    .where(eq(sites.id, siteId))
  return row
}

/** What only reads is told to come again rather than let wait. */
const reading = async <C>(event: H3Event, handle: (c: C) => unknown, c: C): Promise<unknown> =>
  event.method === 'GET'
    ? soon((async () => handle(c))(), () => event.node.res.headersSent)
    : handle(c)

export function openRoute<B = undefined>(
  body: z.ZodType<B> | undefined,
  handle: (c: WithBody<B>) => unknown,
): EventHandler {
  return taking(body, async (event) => {
    guard(event)
    return handle({ event, body: await bodyFor(event, body, null, OPEN_BODY) })
  })
}

export function signedInRoute<B = undefined>(
  body: z.ZodType<B> | undefined,
  handle: (c: SignedIn<B>) => unknown,
  bounds: Partial<Bounds> = {},
): EventHandler {
  return taking(body, async (event) => {
    guard(event)
    const account = await accountOf(event)
    if (!account) throw createError({ statusCode: 401, message: 'sign in first' })
    return reading(event, handle, {
      event,
      account,
      body: await bodyFor(event, body, account.id, { ...BODY, ...bounds }),
    })
  })
}

export function siteRoute<B = undefined>(
  atLeast: Role,
  body: z.ZodType<B> | undefined,
  handle: (c: OnSite<B>) => unknown,
  bounds: Partial<Bounds> = {},
): EventHandler {
  return taking(body, async (event) => {
    guard(event)
    const account = await accountOf(event)
    if (!account) throw createError({ statusCode: 401, message: 'sign in first' })
    const id = validated(siteIdSchema, getRouterParam(event, 'site'))
    const row = await membership(id, account.id)
    if (!row)
      throw createError({
        statusCode: 404,
        message: 'there is no such site, or you are not a member of it',
      })
    if (!isAtLeast(row.role, atLeast))
      throw createError({
        statusCode: 403,
        message: `this needs the role ${atLeast}; yours is ${row.role}`,
      })
    return reading(event, handle, {
      event,
      account,
      site: row.site,
      role: row.role,
      body: await bodyFor(event, body, account.id, { ...BODY, ...bounds }),
    })
  })
}

const paramSchema = z.string().min(1).max(160).refine(isPlainText, 'not a text')
export function param(event: H3Event, name: string): string {
  let value: string | undefined
  try {
    value = getRouterParam(event, name, { decode: true })
  } catch {
    throw createError({ statusCode: 400, message: 'the address is not valid' })
  }
  return validated(paramSchema, value)
}
