import { createError, setResponseHeader } from 'h3'
import { desiredOf } from '../../../../../adoption/devices'
import { param, siteRoute } from '../../../../../http/handlers'

/** The prepared configuration of a device, to be loaded by its page. It holds the keys of the wireless networks. */
export default siteRoute('installer', undefined, async ({ event, site }) => {
  const device = param(event, 'device')
  const { outcome } = await desiredOf(site.id, device)
  if (!outcome.ok) throw createError({ statusCode: 422, message: `missing: ${outcome.missing.join(', ')}` })
  setResponseHeader(event, 'content-disposition', `attachment; filename="${device.replace(/[^a-z0-9-]/g, '-')}.json"`)
  setResponseHeader(event, 'cache-control', 'no-store')
  return outcome.desired.configuration
})
