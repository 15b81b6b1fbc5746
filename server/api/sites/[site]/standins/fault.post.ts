import { createError } from 'h3'
import { z } from 'zod'
import { faultSchema } from '@mast/standins/control'
import { db } from '../../../../db/database'
import { log } from '../../../../db/schema'
import { siteRoute } from '../../../../http/handlers'
import { notify } from '../../../../live/notices'
import { setFault } from '../../../../standins/client'

/** Puts a fault into the stand-ins, or takes it out. */
export default siteRoute(
  'engineer',
  z.strictObject({ fault: faultSchema, on: z.boolean() }),
  async ({ site, account, body }) => {
    const reply = await setFault(site.id, body.fault, body.on)
    if (!reply.ok) throw createError({ statusCode: 422, message: reply.text })
    await db()
      .insert(log)
      .values({
        siteId: site.id,
        accountId: account.id,
        what: `${body.on ? 'Put in' : 'Took out'} the fault ${body.fault.kind}`,
      })
    await notify(db(), { site: site.id, topic: 'standins' })
    return { text: reply.text }
  },
)
