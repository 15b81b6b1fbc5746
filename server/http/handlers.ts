/** The three kinds of route: open to all, for who is signed in, and for members of a site. Each validates what it is given. */
import { and, eq } from 'drizzle-orm'
import { createError, defineEventHandler, getRequestHeader, getRouterParam, type EventHandler, type H3Event } from 'h3'
import { z } from 'zod'
import { accountOf, type Account } from '../accounts/sessions'
import { db } from '../db/database'
import { members, sites } from '../db/schema'
import { readJson, validated, type Bounds } from './body'
import { isCrossSite } from './crossSite'

const BODY = { maxBytes: 2 * 1024 * 1024, maxMs: 20_000 }
export const siteIdSchema = z.string().regex(/^[a-z0-9-]{1,64}$/)

export type Site = typeof sites.$inferSelect
export const roles = ['owner', 'engineer', 'installer', 'viewer'] as const
export type Role = (typeof roles)[number]
export const strength: Readonly<Record<Role, number>> = { viewer: 0, installer: 1, engineer: 2, owner: 3 }

interface WithBody<B> { readonly event: H3Event; readonly body: B }
interface SignedIn<B> extends WithBody<B> { readonly account: Account }
interface OnSite<B> extends SignedIn<B> { readonly site: Site; readonly role: Role }

async function bodyFor<B>(event: H3Event, schema: z.ZodType<B> | undefined, bounds: Bounds = BODY): Promise<B> {
  if (!schema) return undefined as B
  return validated(schema, await readJson(event, bounds))
}

/** A page of another origin must not make a signed-in browser act. */
function refuseCrossSite(event: H3Event): void {
  const header = (name: string): string | undefined => getRequestHeader(event, name)
  if (isCrossSite(event.method, header('host'), header('origin'), header('sec-fetch-site'))) throw createError({ statusCode: 403, message: 'this request came from another site' })
}

export async function membership(siteId: string, accountId: string): Promise<{ site: Site; role: Role } | undefined> {
  const [row] = await db().select({ site: sites, role: members.role }).from(sites).innerJoin(members, and(eq(members.siteId, sites.id), eq(members.accountId, accountId))).where(eq(sites.id, siteId))
  return row
}

export function openRoute<B = undefined>(body: z.ZodType<B> | undefined, handle: (c: WithBody<B>) => unknown): EventHandler {
  return defineEventHandler(async (event) => {
    refuseCrossSite(event)
    return handle({ event, body: await bodyFor(event, body) })
  })
}

export function signedInRoute<B = undefined>(body: z.ZodType<B> | undefined, handle: (c: SignedIn<B>) => unknown, bounds: Partial<Bounds> = {}): EventHandler {
  return defineEventHandler(async (event) => {
    refuseCrossSite(event)
    const account = await accountOf(event)
    if (!account) throw createError({ statusCode: 401, message: 'sign in first' })
    return handle({ event, account, body: await bodyFor(event, body, { ...BODY, ...bounds }) })
  })
}

export function siteRoute<B = undefined>(atLeast: Role, body: z.ZodType<B> | undefined, handle: (c: OnSite<B>) => unknown, bounds: Partial<Bounds> = {}): EventHandler {
  return defineEventHandler(async (event) => {
    refuseCrossSite(event)
    const account = await accountOf(event)
    if (!account) throw createError({ statusCode: 401, message: 'sign in first' })
    const id = validated(siteIdSchema, getRouterParam(event, 'site'))
    const row = await membership(id, account.id)
    if (!row) throw createError({ statusCode: 404, message: 'there is no such site, or you are not a member of it' })
    if (strength[row.role] < strength[atLeast]) throw createError({ statusCode: 403, message: `this needs the role ${atLeast}; yours is ${row.role}` })
    return handle({ event, account, site: row.site, role: row.role, body: await bodyFor(event, body, { ...BODY, ...bounds }) })
  })
}

export const param = (event: H3Event, name: string): string => validated(z.string().min(1).max(160), getRouterParam(event, name, { decode: true }))
