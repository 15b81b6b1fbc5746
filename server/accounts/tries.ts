/** Slows down guessing, over all server processes: the counts are in the database. */
import { createError, getRequestHeader, setResponseHeader, type H3Event } from 'h3'
import { RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible'
import { connections } from '../db/database'
import { clientAddress } from '../http/clientAddress'

const WINDOW_SECONDS = 300
/** Of one name from one address, and of one address over all names. */
const LIMITS = { name: 10, address: 100 }

let limiters: { name: RateLimiterPostgres; address: RateLimiterPostgres } | undefined
function limiter(kind: keyof typeof LIMITS): RateLimiterPostgres {
  const make = (of: keyof typeof LIMITS): RateLimiterPostgres =>
    new RateLimiterPostgres({ storeClient: connections(), storeType: 'pool', tableName: 'tries', tableCreated: true, keyPrefix: of, points: LIMITS[of], duration: WINDOW_SECONDS })
  limiters ??= { name: make('name'), address: make('address') }
  return limiters[kind]
}

const addressOf = (event: H3Event): string => clientAddress(event.node.req.socket.remoteAddress ?? '', getRequestHeader(event, 'x-forwarded-for'), process.env.MAST_BEHIND_PROXY === '1')

/** Counts a try. @throws 429 where there were too many. */
export async function countTry(event: H3Event, name: string): Promise<{ forget(): Promise<void> }> {
  const address = addressOf(event)
  const key = `${address}|${name.toLowerCase()}`
  try {
    await limiter('address').consume(address)
    await limiter('name').consume(key)
  } catch (error) {
    if (error instanceof Error) throw error
    const seconds = Math.ceil((error as RateLimiterRes).msBeforeNext / 1000)
    setResponseHeader(event, 'retry-after', seconds)
    throw createError({ statusCode: 429, message: `too many tries; wait ${seconds < 60 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`}` })
  }
  return { forget: async () => { await limiter('name').delete(key) } }
}
