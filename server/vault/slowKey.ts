/**
 * Keys from passwords (scrypt, RFC 7914), slow by intent: off the event loop, and a few at a time,
 * so that who tries many passwords does not take the threads and
 * the memory that everybody needs.
 */
import { scrypt, type ScryptOptions } from 'node:crypto'
import { Queue } from '../work/queue'

const AT_ONCE = 2
const MOST_WAITING = 64
const queue = new Queue('checking of passwords', AT_ONCE, MOST_WAITING)

/** Of a text in whatever form its letters are composed (NFKC). @throws 503 where too many wait. */
export const slowKey = (
  text: string,
  salt: Buffer,
  bytes: number,
  options: ScryptOptions,
): Promise<Buffer> =>
  queue.run(
    () =>
      new Promise((resolve, reject) =>
        scrypt(text.normalize('NFKC'), salt, bytes, options, (error, key) =>
          error ? reject(error) : resolve(key),
        ),
      ),
  )
