/**
 * What a failed request answers and what is logged of it: never the parameters of a query, which
 * may be secrets.
 */
import { send, setResponseHeader, setResponseStatus, type H3Error } from 'h3'
import { defineNitroErrorHandler } from 'nitropack/runtime'
import { innermost, isDatabaseAway } from '../db/away'
import { isSilent } from '../db/pulse'
import { logLine } from './text'

const FOREIGN_KEY_VIOLATION = '23503'
/** Two waited for each other again and again, however often one of them began anew. */
const DEADLOCK = '40P01'

export default defineNitroErrorHandler((error: H3Error, event) => {
  const code = (innermost(error) as { code?: string }).code
  const isCrowded = code === DEADLOCK
  const away = isCrowded || isDatabaseAway(error)
  // A site or an account was removed while something of it was written.
  const isGone = code === FOREIGN_KEY_VIOLATION
  const status = away ? 503 : isGone ? 404 : error.statusCode || 500
  // What is refused on purpose, with words, is no failure of ours.
  if (status >= 500 && !away && (error.unhandled || status === 500)) {
    const { message, stack } = innermost(error)
    const at = (stack ?? '').split('\n').filter((l) => l.startsWith('    at '))
    const asked = `${event.method} ${logLine(event.path.split('?')[0]!)}`
    const reason = `${code ?? ''} ${logLine(message.split('\n')[0]!)}`
    console.error([`${asked} failed: ${reason}`, ...at.slice(0, 6)].join('\n'))
  }
  const expected = !away && !isGone && !error.unhandled
  const isBusy =
    isCrowded ||
    (away &&
      !isSilent() &&
      /timeout exceeded when trying to connect/.test(innermost(error).message))
  const message = isBusy
    ? 'too much is going on at once; try again in a moment'
    : away
      ? 'the database does not answer; it may be starting. Try again in a moment'
      : isGone
        ? 'what this belongs to was removed just now'
        : expected
          ? error.message
          : 'something went wrong here; it was logged'
  setResponseStatus(event, status)
  setResponseHeader(event, 'content-type', 'application/json')
  setResponseHeader(event, 'cache-control', 'no-store')
  if (status === 503) setResponseHeader(event, 'retry-after', 2)
  return send(
    event,
    JSON.stringify({
      statusCode: status,
      message,
      ...(expected && error.data !== undefined ? { data: error.data } : {}),
    }),
  )
})
