import { sql } from 'drizzle-orm'
import { isDatabaseAway } from '../../../db/away'
import { db } from '../../../db/database'
import { isSilent } from '../../../db/pulse'
import { defineEventHandler, setResponseStatus } from 'h3'

/**
 * Whether the server works: it gets a connection and an answer over it. Where the database itself
 * is away the server can do nothing for it, and says that; what the
 * start command restarts is a server that says neither.
 */
export default defineEventHandler(async (event) => {
  try {
    await db().execute(sql`select 1`)
    return { ready: true, database: 'answers' }
  } catch (error) {
    if (!isDatabaseAway(error)) throw error
    setResponseStatus(event, 503)
    return { ready: false, database: isSilent() ? 'away' : 'answers' }
  }
})
