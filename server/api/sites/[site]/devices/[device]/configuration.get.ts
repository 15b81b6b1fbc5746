import { createError, setResponseHeader } from 'h3'
import { desiredOf } from '../../../../../adoption/devices'
import { db } from '../../../../../db/database'
import { log } from '../../../../../db/schema'
import { documentOf } from '../../../../../releases/documents'
import { targetOf, toldBy } from '../../../../../releases/targets'
import { param, siteRoute } from '../../../../../http/handlers'

/**
 * The prepared configuration of a device, to be loaded by its page. It holds the keys of the
 * wireless networks, so the log keeps that it was looked at.
 */
export default siteRoute('installer', undefined, async ({ event, site, account }) => {
  const device = param(event, 'device')
  const target = await targetOf(site.id, device)
  const told = target && toldBy(target)
  const released = told ? await documentOf(site.id, told.digest) : undefined
  // Before anything was released it is what the plan wants.
  const planned = released ? undefined : (await desiredOf(site.id, device)).outcome
  if (planned && !planned.ok)
    throw createError({ statusCode: 422, message: `missing: ${planned.missing.join(', ')}` })
  await db()
    .insert(log)
    .values({
      siteId: site.id,
      accountId: account.id,
      what: `Looked at the configuration of ${device}, with its keys`,
    })
  setResponseHeader(
    event,
    'content-disposition',
    `attachment; filename="${device.replace(/[^a-z0-9-]/g, '-')}.json"`,
  )
  return released ?? planned!.desired.configuration
})
