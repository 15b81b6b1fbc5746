/** Slows down guessing, over all server processes: the counts are in the database. */
import { RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible'
import { connections } from '../db/database'
import { Refused } from '../refusal'

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

async function consume(...which: [keyof typeof LIMITS, string][]): Promise<void> {
  try {
    for (const [kind, key] of which) await limiter(kind).consume(key)
  } catch (error) {
    if (error instanceof Error) throw error
    const seconds = Math.ceil((error as RateLimiterRes).msBeforeNext / 1000)
    const wait = seconds < 60 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`
    throw new Refused('too-often', `too many tries; wait ${wait}`, undefined, seconds)
  }
}

/**
 * Counts a look at an invitation that is none. Apart from tries to sign in: it must not keep
 * anybody from that.
 * @throws Refused where there were too many
 */
export const countLook = (address: string): Promise<void> => consume(['look', address])

/** Counts a try. @throws Refused where there were too many. */
export async function countTry(
  address: string,
  name: string,
): Promise<{ forget(): Promise<void> }> {
  const key = `${address}|${name.toLowerCase()}`
  await consume(['address', address], ['name', key])
  return {
    forget: async () => {
      await limiter('name').delete(key)
    },
  }
}
