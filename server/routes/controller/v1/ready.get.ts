import { sql } from 'drizzle-orm'
import { db } from '../../../db/database'
import { openRoute } from '../../../http/handlers'

/** Whether the server reaches its database; what the start command waits for. */
export default openRoute(undefined, async () => {
  await db().execute(sql`select 1`)
  return { ready: true }
})
