/** What a failed request answers and what is logged of it: never the parameters of a query, which may be secrets. */
import { send, setResponseHeader, setResponseStatus, type H3Error } from 'h3'
import { defineNitroErrorHandler } from 'nitropack/runtime'
import { innermost, isDatabaseAway } from '../db/away'

export default defineNitroErrorHandler((error: H3Error, event) => {
  const away = isDatabaseAway(error)
  const status = away ? 503 : error.statusCode || 500
  if (status >= 500 && !away) {
    const { message, stack } = innermost(error)
    const code = (innermost(error) as { code?: string }).code
    console.error(`${event.method} ${event.path.split('?')[0]} failed: ${code ?? ''} ${message.split('\n')[0]!.slice(0, 300)}\n${(stack ?? '').split('\n').filter((l) => l.startsWith('    at ')).slice(0, 6).join('\n')}`)
  }
  const expected = !away && !error.unhandled
  const message = away ? 'the database does not answer; it may be starting. Try again in a moment' : expected ? error.message : 'something went wrong here; it was logged'
  setResponseStatus(event, status)
  setResponseHeader(event, 'content-type', 'application/json')
  setResponseHeader(event, 'cache-control', 'no-store')
  if (away) setResponseHeader(event, 'retry-after', 2)
  return send(event, JSON.stringify({ statusCode: status, message, ...(expected && error.data !== undefined ? { data: error.data } : {}) }))
})
