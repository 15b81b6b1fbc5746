/**
 * What a failed request answers and what is logged of it: never the parameters of a query, which
 * may be secrets.
 */
import { send, setResponseHeader, setResponseStatus, type H3Error } from 'h3'
import { defineNitroErrorHandler } from 'nitropack/runtime'
import type { Refusal } from '@mast/api'
import { innermost, isDatabaseAway } from '../db/away'
import { isSilent } from '../db/pulse'
import { logLine } from '../given/text'
import { Refused, type RefusalKind } from '../refusal'

const statuses: Readonly<Record<RefusalKind, number>> = {
  invalid: 400,
  'not-signed-in': 401,
  'not-allowed': 403,
  'not-there': 404,
  'out-of-turn': 409,
  'not-possible': 422,
  'too-often': 429,
  unfit: 502,
  busy: 503,
}
const FOREIGN_KEY_VIOLATION = '23503'
/** Two waited for each other again and again, however often one of them began anew. */
const DEADLOCK = '40P01'
const BUSY_SECONDS = 2

const crowded = (): Refused =>
  new Refused('busy', 'too much is going on at once; try again in a moment')

/** What whoever asked is told; undefined where it is a failure of ours. */
function refusalIn(error: H3Error): Refused | undefined {
  if (error.cause instanceof Refused) return error.cause
  const inner = innermost(error)
  const { code } = inner as { code?: string }
  if (code === DEADLOCK) return crowded()
  if (isDatabaseAway(error))
    return !isSilent() && /timeout exceeded when trying to connect/.test(inner.message)
      ? crowded()
      : new Refused(
          'busy',
          'the database does not answer; it may be starting. Try again in a moment',
        )
  // A site or an account was removed while something of it was written.
  if (code === FOREIGN_KEY_VIOLATION)
    return new Refused('not-there', 'what this belongs to was removed just now')
  return undefined
}

export default defineNitroErrorHandler((error: H3Error, event) => {
  const refused = refusalIn(error)
  const status = refused ? statuses[refused.kind] : error.statusCode || 500
  // What the frame that carries routes refuses with words of its own (an unknown path, a body that
  // is too large) is no failure of ours either.
  const isFailure = !refused && (error.unhandled || status === 500)
  if (isFailure) {
    const { message, stack } = innermost(error)
    const { code } = innermost(error) as { code?: string }
    const at = (stack ?? '').split('\n').filter((l) => l.startsWith('    at '))
    const asked = `${event.method} ${logLine(event.path.split('?')[0]!)}`
    const reason = `${code ?? ''} ${logLine(message.split('\n')[0]!)}`
    console.error([`${asked} failed: ${reason}`, ...at.slice(0, 6)].join('\n'))
  }
  setResponseStatus(event, status)
  setResponseHeader(event, 'content-type', 'application/json')
  setResponseHeader(event, 'cache-control', 'no-store')
  const after = refused?.afterSeconds ?? (status === 503 ? BUSY_SECONDS : undefined)
  if (after !== undefined) setResponseHeader(event, 'retry-after', after)
  const answer: Refusal & { statusCode: number } = {
    statusCode: status,
    message: isFailure ? 'something went wrong here; it was logged' : (refused ?? error).message,
    ...(refused?.data ? { data: refused.data } : {}),
  }
  return send(event, JSON.stringify(answer))
})
