/** Slows down guessing, over all server processes: the counts are in the database. */
import { createError, setResponseHeader, type H3Event } from 'h3'
import { RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible'
import { connections } from '../db/database'
import { addressOf } from '../http/clientAddress'

const WINDOW_SECONDS = 300
/**
 * Of one name from one address, and of one address over all names; of looking at invitations, which
 * is no trying of passwords.
 */
const LIMITS = { name: 10, address: 100, look: 60 }

let limiters: Record<keyof typeof LIMITS, RateLimiterPostgres> | undefined
function limiter(kind: keyof typeof LIMITS): RateLimiterPostgres {
  const make = (of: keyof typeof LIMITS): RateLimiterPostgres =>
    new RateLimiterPostgres({
      storeClient: connections(),
      storeType: 'pool',
      tableName: 'tries',
      tableCreated: true,
      keyPrefix: of,
      points: LIMITS[of],
      duration: WINDOW_SECONDS,
    })
  limiters ??= { name: make('name'), address: make('address'), look: make('look') }
  return limiters[kind]
}

async function consume(event: H3Event, ...which: [keyof typeof LIMITS, string][]): Promise<void> {
  try {
    for (const [kind, key] of which) await limiter(kind).consume(key)
  } catch (error) {
    if (error instanceof Error) throw error
    const seconds = Math.ceil((error as RateLimiterRes).msBeforeNext / 1000)
    setResponseHeader(event, 'retry-after', seconds)
    throw createError({
      statusCode: 429,
      message: `too many tries; wait ${seconds < 60 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`}`,
    })
  }
}

/**
 * Counts a look at an invitation that is none. Apart from tries to sign in: it must not keep
 * anybody from that.
 * @throws 429
 */
export const countLook = (event: H3Event): Promise<void> =>
  consume(event, ['look', addressOf(event)])

/** Counts a try. @throws 429 where there were too many. */
export async function countTry(event: H3Event, name: string): Promise<{ forget(): Promise<void> }> {
  const address = addressOf(event)
  const key = `${address}|${name.toLowerCase()}`
  await consume(event, ['address', address], ['name', key])
  return {
    forget: async () => {
      await limiter('name').delete(key)
    },
  }
}
