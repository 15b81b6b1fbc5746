import { createError, setResponseHeader } from 'h3'
import { z } from 'zod'
import { photographOf } from '../../../../../evidence/evidence'
import { validated } from '../../../../../http/body'
import { param, siteRoute } from '../../../../../http/handlers'

/** A photograph. Nothing in it may act: it is shown as a picture or not at all. */
export default siteRoute('viewer', undefined, async ({ event, site }) => {
  const found = await photographOf(site.id, validated(z.uuid(), param(event, 'id')))
  if (!found) throw createError({ statusCode: 404, message: 'there is no such photograph' })
  setResponseHeader(event, 'content-type', found.mediaType)
  setResponseHeader(event, 'content-security-policy', "default-src 'none'; sandbox")
  setResponseHeader(event, 'cache-control', 'private, max-age=31536000, immutable')
  return found.file
})
