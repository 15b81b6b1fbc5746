/**
 * Routes that browsers ask, each as its endpoint describes it: who may ask is looked at first, then
 * what they give is checked, then it is answered.
 */
import type { BodyGiven, Endpoint, ParamsGiven, QueryGiven, ReplySent } from '@mast/api'
import { isAtLeast, type Role } from '@mast/core/roles'
import { getQuery, getRequestHeader, setResponseHeader, type H3Event } from 'h3'
import { z } from 'zod'
import type { Account } from '../accounts/sessions'
import type { Site } from '../db/schema'
import { parseJson } from '../given/json'
import { isPlainText } from '../given/text'
import { validated } from '../given/validated'
import { membership } from '../members/members'
import { Refused } from '../refusal'
import { Shares } from '../work/queue'
import { readOctets, type Bounds } from './body'
import { isCrossSite } from './crossSite'
import { pathParameter } from './pathParameter'
import { accountOf } from './session'
import { soon } from './soon'
import { taking, type Taking } from './taking'

const BODY = { maxBytes: 2 * 1024 * 1024, maxMs: 20_000 }
/** Of whoever is not known yet: enough for a name and a password. */
const OPEN_BODY = { maxBytes: 8 * 1024, maxMs: 10_000 }
/** Bodies beyond this are large, and one account sends so many of them at once. */
const LARGE_BYTES = 64 * 1024
const largeBodies = new Shares('large requests of one account', 4)
const siteIdSchema = z.string().regex(/^[a-z0-9-]{1,64}$/)
const paramSchema = z.string().min(1).max(160).refine(isPlainText, 'not a text')

interface OnSite {
  readonly account: Account
  readonly site: Site
  readonly role: Role
}
type Who<E extends Endpoint> = E['access'] extends 'anybody'
  ? unknown
  : E['access'] extends 'account'
    ? { readonly account: Account }
    : OnSite
/** What a route has to answer with. */
export type Asking<E extends Endpoint> = Who<E> & {
  readonly event: H3Event
  readonly params: ParamsGiven<E>
  readonly query: QueryGiven<E>
  readonly body: BodyGiven<E>
}

/** The octets of a body; those of large ones one account does not send without end. */
async function octetsFor(
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

/**
 * A page of another origin must not make a signed-in browser act or read. Answers are for who
 * asked, and kept by nobody on the way.
 */
function guard(event: H3Event): void {
  setResponseHeader(event, 'cache-control', 'no-store')
  const header = (name: string): string | undefined => getRequestHeader(event, name)
  if (isCrossSite(event.method, header('host'), header('origin'), header('sec-fetch-site')))
    throw new Refused('not-allowed', 'this request came from another site')
}

async function whoMay(event: H3Event, access: Endpoint['access']): Promise<Partial<OnSite>> {
  guard(event)
  if (access === 'anybody') return {}
  const account = await accountOf(event)
  if (!account) throw new Refused('not-signed-in', 'sign in first')
  if (access === 'account') return { account }
  const row = await membership(validated(siteIdSchema, pathParameter(event, 'site')), account.id)
  if (!row) throw new Refused('not-there', 'there is no such site, or you are not a member of it')
  if (!isAtLeast(row.role, access))
    throw new Refused('not-allowed', `this needs the role ${access}; yours is ${row.role}`)
  return { account, ...row }
}

function paramsOf(event: H3Event, e: Endpoint): Readonly<Record<string, unknown>> {
  const given = Object.entries(e.params ?? {}).map(([name, schema]) => [
    name,
    validated(schema, validated(paramSchema, pathParameter(event, name))),
  ])
  return Object.fromEntries(given) as Readonly<Record<string, unknown>>
}

/** What only reads is told to come again rather than let wait. */
const answered = (event: H3Event, handle: () => unknown): Promise<unknown> =>
  event.method === 'GET'
    ? soon((async () => handle())(), () => event.node.res.headersSent)
    : (async () => handle())()

export function route<E extends Endpoint>(
  e: E,
  handle: (asking: Asking<E>) => ReplySent<E> | Promise<ReplySent<E>>,
  bounds: Partial<Bounds> = {},
): Taking {
  return taking(e, async (event) => {
    const who = await whoMay(event, e.access)
    const { account } = who
    const params = paramsOf(event, e)
    const query = e.query && validated(e.query, getQuery(event))
    const body =
      e.body &&
      validated(
        e.body,
        parseJson(
          await octetsFor(event, account?.id ?? null, {
            ...(account ? BODY : OPEN_BODY),
            ...bounds,
          }),
        ),
      )
    return answered(event, () => handle({ ...who, event, params, query, body } as Asking<E>))
  })
}

/** A route whose body is so large that a thread reads it, and checks it by the endpoint's schema. */
export function octetsRoute<E extends Endpoint>(
  e: E,
  bounds: Bounds,
  handle: (
    asking: Omit<Asking<E>, 'body'> & { readonly octets: () => Promise<Uint8Array> },
  ) => Promise<ReplySent<E>>,
): Taking {
  return taking(e, async (event) => {
    const who = await whoMay(event, e.access)
    const octets = async (): Promise<Uint8Array> =>
      new Uint8Array(await octetsFor(event, who.account?.id ?? null, bounds))
    return handle({ ...who, event, params: paramsOf(event, e), query: undefined, octets } as Omit<
      Asking<E>,
      'body'
    > & { octets: () => Promise<Uint8Array> })
  })
}
